import { beforeEach, describe, expect, it } from 'vitest';
import { freeName } from '#core/1-ground/words.ts';
import { useSizingEdits } from './sizing-edits.ts';

const edits = () => {
  const { projectId, policy, materials, moved } = useSizingEdits.getState();
  return { projectId, policy, materials, moved };
};

describe('what was changed of a project and is not kept', () => {
  beforeEach(() => useSizingEdits.getState().discard());

  it('adds up, one thing after the other', () => {
    const { changePolicy, changeMaterial } = useSizingEdits.getState();
    changePolicy('atlas', { fillLimit: 0.9 });
    changePolicy('atlas', { survives: 2 });
    changePolicy('atlas', { fillLimit: 0.7 });
    changeMaterial('atlas', 3, { keepDays: 12 });
    changeMaterial('atlas', 3, { fromDay: 4 });
    changeMaterial('atlas', 0, { keepDays: null });
    expect(edits()).toEqual({
      projectId: 'atlas',
      policy: { fillLimit: 0.7, survives: 2 },
      materials: { 0: { keepDays: null }, 3: { keepDays: 12, fromDay: 4 } },
      moved: null,
    });
  });

  it('is of one project: what was changed of another is forgotten, and never taken over', () => {
    const { changePolicy, changeMaterial } = useSizingEdits.getState();
    changePolicy('atlas', { fillLimit: 0.9 });
    changeMaterial('atlas', 0, { keepDays: 3 });
    changeMaterial('short', 1, { keepDays: 5 });
    expect(edits()).toEqual({ projectId: 'short', policy: {}, materials: { 1: { keepDays: 5 } }, moved: null });
    changePolicy('atlas', { survives: 0 });
    expect(edits()).toEqual({ projectId: 'atlas', policy: { survives: 0 }, materials: {}, moved: null });
  });

  it('stands on a move that was taken over, which was made of what was changed before', () => {
    const { changePolicy, changeMaterial, takeOver } = useSizingEdits.getState();
    changePolicy('atlas', { survives: 2 });
    changeMaterial('atlas', 0, { keepDays: 3 });
    const moved = { days: 35, phases: [], materials: [], workload: null };
    takeOver('atlas', moved);
    changeMaterial('atlas', 1, { keepDays: 5 });
    expect(edits()).toEqual({
      projectId: 'atlas',
      policy: { survives: 2 },
      materials: { 1: { keepDays: 5 } },
      moved,
    });
    changePolicy('short', { survives: 1 });
    expect(edits().moved).toBeNull();
  });

  it('goes when it is kept or taken back', () => {
    useSizingEdits.getState().changePolicy('atlas', { fillLimit: 0.9 });
    useSizingEdits.getState().discard();
    expect(edits()).toEqual({ projectId: null, policy: {}, materials: {}, moved: null });
  });
});

describe('a name that is free', () => {
  it('is the wanted one, or the first number behind it that nobody has', () => {
    expect(freeName('Shoot', [])).toBe('Shoot');
    expect(freeName('Shoot', ['Shoot'])).toBe('Shoot 2');
    expect(freeName('Shoot', ['Shoot', 'Shoot 2', 'Shoot 4'])).toBe('Shoot 3');
    expect(freeName('Shoot', ['shoot'])).toBe('Shoot');
  });
});
