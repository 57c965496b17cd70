import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { GLOSSARY } from '#core/1-ground/glossary.ts';

it('is the one in docs/words.md, each word once', () => {
  const page = readFileSync(new URL('../../docs/words.md', import.meta.url), 'utf8');
  const lines = page.split('\n').filter((line) => line.startsWith('| **'));
  expect(lines).toEqual(GLOSSARY.map(([word, meaning]) => `| **${word}** | ${meaning} |`));
  expect(new Set(GLOSSARY.map(([word]) => word.toLowerCase())).size).toBe(GLOSSARY.length);
});
