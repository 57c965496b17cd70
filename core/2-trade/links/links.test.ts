import { describe, expect, it } from 'vitest';
import { hopLine, parseHop } from '#core/2-trade/links/hop-line.ts';
import { linkChoices } from '#core/2-trade/links/link-choices.ts';
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

describe('links as they are called', () => {
  it.each([
    ['USB 3.2 Gen 2', 'usb-10', 1],
    ['usb 3.2 gen2x2', 'usb-20', 1],
    ['USB 3.0', 'usb-5', 1],
    ['USB 3.1 Gen 1', 'usb-5', 1],
    ['USB 2.0', 'usb-480', 1],
    ['USB4 40Gbps', 'tunnel-40', 1],
    ['USB4 v2 80 Gb/s', 'tunnel-80', 1],
    ['Thunderbolt 3', 'tunnel-40', 1],
    ['Thunderbolt 5', 'tunnel-80', 1],
    ['10GbE', 'ethernet-10', 1],
    ['2.5 GbE', 'ethernet-2.5', 1],
    ['25 Gb/s Ethernet', 'ethernet-25', 1],
    ['10 gigabit Ethernet', 'ethernet-10', 1],
    ['10GBASE-T', 'ethernet-10', 1],
    ['Gigabit LAN', 'ethernet-1', 1],
    ['SATA', 'sata-6', 1],
    ['SATA III', 'sata-6', 1],
    ['SATA 3 Gb/s', 'sata-3', 1],
    ['SAS 12G', 'sas-12', 1],
    ['PCIe Gen4 x4', 'pcie-4', 4],
    ['PCIe 5.0 ×2', 'pcie-5', 2],
    ['Gen 3 x4', 'pcie-3', 4],
    ['CFexpress Type B', 'pcie-3', 2],
    ['CFexpress 4.0 Type B', 'pcie-4', 2],
    ['UHS-II', 'sd-uhs-2', 1],
    ['16G FC', 'fc-16', 1],
  ])('%s', (typed, linkId, lanes) => {
    expect(parseHop(typed)).toMatchObject({ linkId, lanes });
    expect(parseHop(`${typed} at the hub`)).toMatchObject({ linkId, at: 'the hub' });
  });

  it.each(['USB 3.2', 'USB4', 'USB-C', 'USB', 'SAS', 'PCIe 4.0', 'Thunderbolt', 'Ethernet', 'CFexpress'])(
    '%s leaves open how much it carries, and is asked about',
    (typed) => {
      const wanted = /Type (?:which|how much|how many|what the link carries),(?: such as)? ([^.]+(?:\.\d[^.]*)?)\.$/;
      let said = '';
      try {
        parseHop(typed);
      } catch (error) {
        said = (error as Error).message;
      }
      expect(said).toMatch(wanted);
    },
  );

  it('every link is read again by the name it has here', () => {
    for (const hop of linkChoices()) expect(parseHop(hopLine(hop))).toEqual(hop);
  });

  it.each(['USB 7 Gb/s', 'SATA 9', '10 apples', 'PCIe 4.0 x64', 'Ethernet 10 Gb/s and more'])('%s is none', (typed) => {
    expect(() => parseHop(typed)).toThrow();
  });
});
