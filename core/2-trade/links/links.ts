/**
 * What a link can carry. A ceiling is line rate × line code × protocol efficiency; the three
 * are kept apart so that a person sees where the bytes go.
 */
export interface LinkKind {
  id: string;
  label: string;
  /** Bits per second on the wire, of one lane where lanes apply. */
  lineBitsPerSecond: number;
  /** Share left by the line code, e.g. 8/10. */
  lineCode: number;
  /** Share left by packets and protocol. */
  protocolEfficiency: number;
  lanes: 'counted' | 'single';
  duplex: 'full' | 'half';
  source: string;
}

const PCIE_PACKETS = 0.91;
const CODE_8B10B = 8 / 10;
const CODE_128B130B = 128 / 130;
const CODE_128B132B = 128 / 132;
const CODE_128B150B = 128 / 150;
/** Payload of 1448 bytes in 1538 on the wire: TCP with time stamps at MTU 1500 (RFC 7323, IEEE 802.3). */
export const TCP_SHARE_MTU_1500 = 1448 / 1538;
/** The same at MTU 9000. */
export const TCP_SHARE_MTU_9000 = 8948 / 9038;
/** What file sharing leaves of the TCP payload. */
export const FILE_SHARING_SHARE = 0.97;

function pcie(generation: number, gigatransfers: number, lineCode: number): LinkKind {
  return {
    id: `pcie-${generation}`,
    label: `PCIe ${generation}.0`,
    lineBitsPerSecond: gigatransfers * 1e9,
    lineCode,
    protocolEfficiency: PCIE_PACKETS,
    lanes: 'counted',
    duplex: 'full',
    source: 'PCI Express Base Specification; 256-byte packets',
  };
}

function single(
  id: string,
  label: string,
  gigabits: number,
  lineCode: number,
  protocolEfficiency: number,
  source: string,
  duplex: 'full' | 'half' = 'full',
): LinkKind {
  return {
    id,
    label,
    lineBitsPerSecond: gigabits * 1e9,
    lineCode,
    protocolEfficiency,
    lanes: 'single',
    duplex,
    source,
  };
}

function ethernet(gigabits: number): LinkKind {
  const share = TCP_SHARE_MTU_1500 * FILE_SHARING_SHARE;
  return single(
    `ethernet-${gigabits}`,
    `Ethernet ${gigabits} Gb/s`,
    gigabits,
    1,
    share,
    'IEEE 802.3, RFC 7323; file sharing',
  );
}

export const LINK_KINDS: readonly LinkKind[] = [
  pcie(1, 2.5, CODE_8B10B),
  pcie(2, 5, CODE_8B10B),
  pcie(3, 8, CODE_128B130B),
  pcie(4, 16, CODE_128B130B),
  pcie(5, 32, CODE_128B130B),
  single('sata-3', 'SATA 3 Gb/s', 3, CODE_8B10B, 0.93, 'Serial ATA specification', 'half'),
  single('sata-6', 'SATA 6 Gb/s', 6, CODE_8B10B, 0.93, 'Serial ATA specification', 'half'),
  single('sas-12', 'SAS 12 Gb/s', 12, CODE_8B10B, 0.93, 'INCITS SAS'),
  single('sas-22', 'SAS 22.5 Gb/s', 22.5, CODE_128B150B, 0.93, 'INCITS SAS-4'),
  single('usb-480', 'USB 480 Mb/s', 0.48, 1, 0.7, 'USB 2.0', 'half'),
  single('usb-5', 'USB 5 Gb/s', 5, CODE_8B10B, 0.88, 'USB 3.2'),
  single('usb-10', 'USB 10 Gb/s', 10, CODE_128B132B, 0.88, 'USB 3.2'),
  single('usb-20', 'USB 20 Gb/s', 20, CODE_128B132B, 0.88, 'USB 3.2'),
  single('tunnel-40', 'USB4 40 Gb/s', 32, 1, 0.83, 'USB4; 32 Gb/s of PCIe, 128-byte packets'),
  single('tunnel-80', 'USB4 80 Gb/s', 64, 1, 0.83, 'USB4 version 2; 64 Gb/s of PCIe'),
  single('tunnel-bridge', 'PCIe over cable, older bridge', 21.6, 1, 1, 'about 2.7 GB/s in practice'),
  single('sd-uhs-1', 'SD UHS-I', 0.832, 1, 1, 'SD physical layer specification', 'half'),
  single('sd-uhs-2', 'SD UHS-II', 2.496, 1, 1, 'SD physical layer specification', 'half'),
  single('sd-uhs-3', 'SD UHS-III', 4.992, 1, 1, 'SD physical layer specification'),
  single('fc-16', 'Fibre Channel 16 Gb/s', 12.8, 1, 1, 'FC-PI; 1,600 MB/s of data'),
  single('fc-32', 'Fibre Channel 32 Gb/s', 25.6, 1, 1, 'FC-PI; 3,200 MB/s of data'),
  ...[1, 2.5, 5, 10, 25, 40, 100].map(ethernet),
];

/**
 * Bytes per second of data before protocol: line rate × line code ÷ 8, times lanes.
 * Check: PCIe 3.0 ×4 → 3,938 MB/s; USB 10 Gb/s → 1,212 MB/s.
 */
export function rawBytesPerSecond(kind: LinkKind, lanes = 1): number {
  return ((kind.lineBitsPerSecond * kind.lineCode) / 8) * lanes;
}

/** Bytes per second that reach the file: raw × protocol efficiency. */
export function ceilingBytesPerSecond(kind: LinkKind, lanes = 1): number {
  return rawBytesPerSecond(kind, lanes) * kind.protocolEfficiency;
}

/** TCP payload of an Ethernet link at an MTU, before file sharing. Check: 1 Gb/s, 1500 → 117.7 MB/s. */
export function tcpBytesPerSecond(lineBitsPerSecond: number, mtu: 1500 | 9000): number {
  return (lineBitsPerSecond / 8) * (mtu === 1500 ? TCP_SHARE_MTU_1500 : TCP_SHARE_MTU_9000);
}

export function linkKindById(id: string): LinkKind | undefined {
  return LINK_KINDS.find((kind) => kind.id === id);
}
