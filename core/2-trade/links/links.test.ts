import { describe, expect, it } from 'vitest';
import { bindingHop, downgradedHops, hopOf } from '#core/2-trade/links/connection.ts';
import {
  LINK_KINDS,
  ceilingBytesPerSecond,
  linkKindById,
  rawBytesPerSecond,
  tcpBytesPerSecond,
} from '#core/2-trade/links/links.ts';

const raw = (id: string, lanes = 1) => rawBytesPerSecond(linkKindById(id)!, lanes) / 1e6;

describe('link ceilings', () => {
  it.each([
    ['pcie-1', 1, 250],
    ['pcie-2', 1, 500],
    ['pcie-3', 1, 984.6],
    ['pcie-4', 1, 1969.2],
    ['pcie-5', 1, 3938.5],
    ['pcie-3', 4, 3938.5],
    ['sata-6', 1, 600],
    ['sas-12', 1, 1200],
    ['sas-22', 1, 2400],
    ['usb-480', 1, 60],
    ['usb-5', 1, 500],
    ['usb-10', 1, 1212.1],
    ['usb-20', 1, 2424.2],
    ['sd-uhs-1', 1, 104],
    ['sd-uhs-2', 1, 312],
    ['sd-uhs-3', 1, 624],
    ['fc-16', 1, 1600],
    ['fc-32', 1, 3200],
  ])('%s ×%i carries %d MB/s before protocol', (id, lanes, expected) => {
    expect(raw(id, lanes)).toBeCloseTo(expected, 1);
  });

  it.each([
    [1e9, 1500, 117.7],
    [1e9, 9000, 123.8],
    [10e9, 1500, 1177],
    [10e9, 9000, 1237.6],
  ] as const)('TCP on %d bit/s at MTU %i carries %d MB/s', (line, mtu, expected) => {
    expect(Math.abs(tcpBytesPerSecond(line, mtu) / 1e6 - expected)).toBeLessThan(0.5);
  });

  it('never gives more than the wire, and older bridges about 2.7 GB/s', () => {
    for (const kind of LINK_KINDS) {
      expect(ceilingBytesPerSecond(kind)).toBeLessThanOrEqual(kind.lineBitsPerSecond / 8);
    }
    expect(ceilingBytesPerSecond(linkKindById('tunnel-40')!) / 1e9).toBeCloseTo(3.3, 1);
    expect(ceilingBytesPerSecond(linkKindById('tunnel-80')!) / 1e9).toBeCloseTo(6.6, 1);
    expect(ceilingBytesPerSecond(linkKindById('tunnel-bridge')!) / 1e9).toBeCloseTo(2.7, 1);
  });
});

describe('connections', () => {
  const hops = [hopOf('pcie-3', 1, 4, 'pcie-4')!, hopOf('ethernet-10')!];

  it('is bound by its least hop', () => {
    expect(bindingHop({ hops })?.label).toBe('PCIe 3.0 ×1');
    expect(bindingHop({ hops: [] })).toBeNull();
  });

  it('names hops below what both ends could do', () => {
    expect(downgradedHops({ hops }).map((hop) => hop.label)).toEqual(['PCIe 3.0 ×1']);
    expect(hopOf('no-such-link')).toBeUndefined();
  });
});
