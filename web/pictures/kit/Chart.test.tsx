// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { Line } from 'recharts';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { Chart, STILL } from './Chart.tsx';
import { Marks, type Plot } from './Marks.tsx';
import { RowsChart } from './RowsChart.tsx';
import { linearSpan, logSpan, type AxisSpan } from '#core/1-ground/axis-span.ts';

const SIZE = { width: 900, height: 500 };
const PLOT = { left: 60, right: 40, top: 30, bottom: 50 };

beforeEach(() => {
  // Elements are as large as a place on a screen: nothing is laid out here.
  vi.stubGlobal(
    'ResizeObserver',
    class {
      readonly #report: (entries: { contentRect: typeof SIZE }[]) => void;
      constructor(report: (entries: { contentRect: typeof SIZE }[]) => void) {
        this.#report = report;
      }
      observe() {
        this.#report([{ contentRect: SIZE }]);
      }
      disconnect() {}
      unobserve() {}
    },
  );
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

/** A chart of one line, and the plot that its marks are given. */
function drawChart(x: AxisSpan, y: AxisSpan, data: readonly { x: number; rate: number }[]) {
  const seen: Plot[] = [];
  const { container } = render(
    <Chart
      label="Rates over time"
      plot={PLOT}
      x={{ span: x, format: formatNumber, title: 'seconds' }}
      y={{ span: y, format: formatNumber, title: 'MB/s' }}
      readOut={(at) => [{ text: `${formatNumber(at)} s` }, { text: `${formatNumber(2 * at)} MB/s` }]}
    >
      <Line {...STILL} data={[...data]} dataKey="rate" type="linear" stroke="black" data-trace="" />
      <Marks>
        {(plot) => {
          seen.push(plot);
          return <circle data-mark="" cx={plot.x(x.to)} cy={plot.y(y.to)} r={2} />;
        }}
      </Marks>
    </Chart>,
  );
  return { container, plot: seen.at(-1)! };
}

/** Points of a drawn line. */
const pointsOf = (container: Element): [number, number][] =>
  [
    ...container
      .querySelector('[data-trace]')!
      .getAttribute('d')!
      .matchAll(/(-?[\d.]+),(-?[\d.]+)/g),
  ].map(([, x, y]) => [Number(x), Number(y)]);

describe('a chart', () => {
  it('puts lines of the library and marks of our own on the same places', () => {
    const data = [
      { x: 0, rate: 100 },
      { x: 5, rate: 300 },
      { x: 10, rate: 0 },
    ];
    const { container, plot } = drawChart(linearSpan(0, 10, 5), linearSpan(0, 400, 5), data);
    expect([plot.left, plot.right, plot.top, plot.bottom]).toEqual([60, 860, 30, 450]);
    const points = pointsOf(container);
    expect(points).toHaveLength(3);
    for (const [index, { x, rate }] of data.entries()) {
      expect(points[index]![0]).toBeCloseTo(60 + x * 80, 1);
      expect(points[index]![1]).toBeCloseTo(450 - (rate / 400) * 420, 1);
      expect([plot.x(x), plot.y(rate)]).toEqual([60 + x * 80, 450 - (rate / 400) * 420]);
    }
    expect(plot.x.invert(460)).toBeCloseTo(5, 9);
  });

  it('draws nothing, and what is below, at the foot of a logarithmic axis', () => {
    const data = [
      { x: 0, rate: 0 },
      { x: 1, rate: 1 },
      { x: 2, rate: 1000 },
    ];
    const { container, plot } = drawChart(linearSpan(0, 2, 2), logSpan(10, 1000, 9), data);
    const heights = pointsOf(container).map(([, y]) => y);
    expect(heights[0]).toBeCloseTo(450, 1);
    expect(heights[1]).toBeCloseTo(450, 1);
    expect(heights[2]).toBeCloseTo(30, 1);
    expect(plot.y(100)).toBeCloseTo(240, 6);
    expect(plot.y.invert(240)).toBeCloseTo(100, 6);
  });

  it('has its own ticks, and leaves out numbers that would run into each other', () => {
    const { container } = drawChart(linearSpan(0, 100_000, 40, false), logSpan(10, 1000, 9), []);
    const words = [...container.querySelectorAll('text')].map(({ textContent }) => textContent);
    for (const tick of ['10', '20', '50', '100', '200', '500', '1,000']) expect(words).toContain(tick);
    const across = words.filter((word) => /^\d+,000$|^0$/.test(word ?? ''));
    expect(across.length).toBeGreaterThan(5);
    expect(across.length).toBeLessThan(25);
    expect(words).toEqual(expect.arrayContaining(['MB/s', 'seconds']));
  });

  it('is read out by keys: what it says is spoken, and gone when one leaves', () => {
    const { container } = drawChart(linearSpan(0, 60, 6), linearSpan(0, 120, 6), []);
    const cursor = screen.getByRole('slider', { name: 'Figures of: Rates over time' });
    expect(container.querySelector('[data-read-out]')).toBeNull();
    fireEvent.keyDown(cursor, { key: 'End' });
    expect(cursor.getAttribute('aria-valuetext')).toBe('60 s, 120 MB/s');
    fireEvent.keyDown(cursor, { key: 'ArrowLeft' });
    expect(cursor.getAttribute('aria-valuetext')).toBe('59 s, 118 MB/s');
    fireEvent.keyDown(cursor, { key: 'Home' });
    for (let press = 0; press < 3; press += 1) fireEvent.keyDown(cursor, { key: 'ArrowLeft' });
    expect(cursor.getAttribute('aria-valuetext')).toBe('0 s, 0 MB/s');
    expect(container.querySelector('[data-read-out]')!.textContent).toBe('0 s0 MB/s');
    fireEvent.keyDown(cursor, { key: 'Escape' });
    expect(container.querySelector('[data-read-out]')).toBeNull();
    fireEvent.keyDown(cursor, { key: 'ArrowRight' });
    fireEvent.blur(cursor);
    expect(container.querySelector('[data-read-out]')).toBeNull();
  });

  it('draws nothing where there is no room for a plot', () => {
    Object.assign(SIZE, { height: 100 });
    try {
      const { container } = render(
        <Chart
          label="Small"
          plot={PLOT}
          x={{ span: linearSpan(0, 1, 2), format: formatNumber, title: '' }}
          y={{ span: linearSpan(0, 1, 2), format: formatNumber, title: '' }}
        >
          {null}
        </Chart>,
      );
      expect(container.querySelector('svg')).toBeNull();
    } finally {
      Object.assign(SIZE, { height: 500 });
    }
  });
});

describe('rows over one axis', () => {
  const rowsOf = (count: number) =>
    Array.from({ length: count }, (_, index) => ({ key: `k${index}`, label: `Row ${index}`, data: {}, end: index }));

  function drawRows(count: number, onSelect = vi.fn(), middleKey?: string) {
    const drawn: { top: number; height: number; at: number }[] = [];
    render(
      <RowsChart
        label="Ends"
        rows={rowsOf(count)}
        selected="k1"
        onSelect={onSelect}
        span={linearSpan(0, 10, 5)}
        title="seconds"
        left={100}
        right={50}
        least={40}
        most={80}
        middleKey={middleKey}
      >
        {({ end }, { x, top, height }) => {
          drawn[end] = { top, height, at: x(end) };
          return null;
        }}
      </RowsChart>,
    );
    return { drawn, onSelect };
  }

  it('are buttons, as high as there is room, each mark beside its own', () => {
    const { drawn, onSelect } = drawRows(4);
    expect(drawn.map(({ top, height }) => [top, height])).toEqual([
      [0, 80],
      [80, 80],
      [160, 80],
      [240, 80],
    ]);
    expect(drawn[2]!.at).toBeCloseTo(100 + 2 * 75, 6);
    const buttons = screen.getAllByRole('button');
    expect(buttons.map((button) => button.getAttribute('aria-pressed'))).toEqual(['false', 'true', 'false', 'false']);
    fireEvent.click(buttons[3]!);
    expect(onSelect).toHaveBeenCalledWith('k3');
  });

  it('begin at the one that is to stand in the middle', () => {
    drawRows(30, vi.fn(), 'k20');
    const scroller = [...document.querySelectorAll('div')].find(({ scrollTop }) => scrollTop > 0);
    expect(scroller!.scrollTop + scroller!.clientHeight / 2).toBe(20 * 40);
  });

  it('are scrolled to where they are many', () => {
    const { drawn } = drawRows(30);
    expect(drawn.every(({ height }) => height === 40)).toBe(true);
    expect(drawn.at(-1)!.top).toBe(29 * 40);
  });
});
