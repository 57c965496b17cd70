import { hopOf, type Hop } from '#core/2-trade/links/connection.ts';
import { LINK_KINDS } from '#core/2-trade/links/links.ts';
import { badInput } from '#core/1-ground/problem.ts';

/** Links as they are called on boxes, in data sheets and by people, beside the names that they have here. */

/** What stands behind a number of gigabits: “10 Gb/s”, “10Gbps”, “10 Gbit/s”, “10G”. */
const GIGABITS = String.raw`\s*G(?:b(?:it)?(?:\/s|ps)?)?(?![a-z])`;
const LANES = String.raw`\s*[x×]\s*(\d{1,2})`;

/** A name of links; `lanes` where it says how many it has. */
interface LinkName {
  pattern: RegExp;
  link: (match: RegExpExecArray) => { id: string; lanes?: number } | Question;
}
/** What a name leaves open, and what to type instead. */
interface Question {
  leavesOpen: string;
}

const name = (pattern: string, link: LinkName['link']): LinkName => ({
  pattern: new RegExp(`^(?:${pattern})(?![\\w.])`, 'i'),
  link,
});
const one = (pattern: string, id: string, lanes?: number): LinkName =>
  name(pattern, () => ({ id, ...(lanes === undefined ? {} : { lanes }) }));
const open = (pattern: string, leavesOpen: string): LinkName => name(pattern, () => ({ leavesOpen }));

/** The first that matches counts: what says more stands before what says less. */
const NAMES: readonly LinkName[] = [
  name(String.raw`(?:PCIe|PCI\s?Express|Gen)\s*(?:Gen\s*)?([1-5])(?:\.\d)?${LANES}`, ([, generation, lanes]) => ({
    id: `pcie-${generation}`,
    lanes: Number(lanes),
  })),
  name(String.raw`(?:PCIe|PCI\s?Express)\s*(?:Gen\s*)?([1-5])(?:\.\d)?`, ([, generation]): Question => ({
    leavesOpen: `may have 1, 2 or 4 lanes. Type how many, such as PCIe ${generation}.0 x4`,
  })),
  one(String.raw`CFexpress\s+4(?:\.0)?\s+Type\s+B`, 'pcie-4', 2),
  one(String.raw`CFexpress\s+4(?:\.0)?\s+Type\s+A`, 'pcie-4', 1),
  one(String.raw`CFexpress(?:\s+[12](?:\.0)?)?\s+Type\s+B`, 'pcie-3', 2),
  one(String.raw`CFexpress(?:\s+[12](?:\.0)?)?\s+Type\s+A`, 'pcie-3', 1),
  open('CFexpress', 'may be of type A or B. Type which, such as CFexpress Type B'),
  one(String.raw`SATA\s*3${GIGABITS}|SATA\s*II|SATA\s*2`, 'sata-3'),
  one(String.raw`SATA(?:\s*6${GIGABITS}|\s*III|\s*3(?:\.\d)?)?`, 'sata-6'),
  one(String.raw`SAS(?:\s*12${GIGABITS}|[\s-]*3(?:\.0)?)`, 'sas-12'),
  one(String.raw`SAS(?:\s*(?:22\.5|24)${GIGABITS}|[\s-]*4(?:\.\d)?)`, 'sas-22'),
  open('SAS', 'may carry 12 or 22.5 Gb/s. Type which, such as SAS 12 Gb/s'),
  open(
    String.raw`USB[\s-]*C`,
    'is a plug, and says nothing of the rate. Type what the link carries, such as USB 10 Gb/s',
  ),
  one(String.raw`USB\s*4(?:\.0)?\s*(?:v2\s*)?80${GIGABITS}|USB\s*80${GIGABITS}|Thunderbolt\s*5`, 'tunnel-80'),
  one(String.raw`USB\s*4(?:\.0)?\s*40${GIGABITS}|USB\s*40${GIGABITS}|Thunderbolt\s*[34]`, 'tunnel-40'),
  one(String.raw`USB\s*4(?:\.0)?\s*20${GIGABITS}`, 'usb-20'),
  open(String.raw`USB\s*4(?:\.0)?(?:\s*v2)?`, 'may carry 20, 40 or 80 Gb/s. Type which, such as USB4 40 Gb/s'),
  open('Thunderbolt', 'may be of version 3, 4 or 5. Type which, such as Thunderbolt 4'),
  one(String.raw`USB\s*3\.2\s*Gen\s*2\s*[x×]\s*2|USB\s*20${GIGABITS}`, 'usb-20'),
  one(String.raw`USB\s*3\.[12]\s*Gen\s*2(?:\s*[x×]\s*1)?|USB\s*10${GIGABITS}`, 'usb-10'),
  one(String.raw`USB\s*3\.[12]\s*Gen\s*1(?:\s*[x×]\s*1)?|USB\s*3\.0|USB\s*5${GIGABITS}`, 'usb-5'),
  open(String.raw`USB\s*3(?:\.[12])?`, 'may carry 5, 10 or 20 Gb/s. Type which, such as USB 10 Gb/s'),
  one(String.raw`USB\s*2(?:\.0)?|USB\s*480\s*Mb(?:it)?(?:\/s|ps)?`, 'usb-480'),
  open('USB', 'may carry 0.48 to 80 Gb/s. Type how much, such as USB 10 Gb/s'),
  one(String.raw`(?:SD\s*)?UHS[\s-]*(?:III|3)`, 'sd-uhs-3'),
  one(String.raw`(?:SD\s*)?UHS[\s-]*(?:II|2)`, 'sd-uhs-2'),
  one(String.raw`(?:SD\s*)?UHS[\s-]*(?:I|1)`, 'sd-uhs-1'),
  name(String.raw`(?:FC|Fib(?:re|er)\s*Channel)\s*(16|32)(?:${GIGABITS})?`, ([, rate]) => ({ id: `fc-${rate}` })),
  name(String.raw`(16|32)\s*G(?:b(?:\/s|ps)?)?\s*(?:FC|Fib(?:re|er)\s*Channel)`, ([, rate]) => ({ id: `fc-${rate}` })),
  one(String.raw`Gigabit\s*(?:Ethernet|LAN|network)`, 'ethernet-1'),
  name(
    String.raw`(?:(?:Ethernet|LAN)\s*(\d{1,3}(?:\.\d)?)(?:GbE|${GIGABITS})|(\d{1,3}(?:\.\d)?)\s*(?:GbE|GBASE-\w+|G(?:ig(?:abit)?|b(?:\/s|ps|it\/s)?)?\s*(?:Ethernet|LAN|network)))`,
    ([, behind, before]) => ({ id: `ethernet-${Number(behind ?? before)}` }),
  ),
  open('Ethernet', 'may carry 1 to 100 Gb/s. Type how much, such as Ethernet 10 Gb/s'),
];

/** By the names that links have here, which are typed again from what was shown; the longest first. */
const OWN_NAMES = [...LINK_KINDS]
  .sort((a, b) => b.label.length - a.label.length)
  .filter(({ lanes }) => lanes === 'single')
  .map(({ label, id }) => one(label.replaceAll(/[.*+?^${}()|[\]\\]/g, '\\$&').replaceAll(/[\s,]+/g, '[\\s,]*'), id));

const ALL_NAMES = [...OWN_NAMES, ...NAMES];

/**
 * The link that a text begins with, and the words of it; null where it begins with none.
 * @throws Problem `bad-input` where its name leaves open how much it carries, with what to type
 */
export function linkAtStart(text: string, where: string): { hop: Hop; words: string } | null {
  for (const { pattern, link } of ALL_NAMES) {
    const match = pattern.exec(text);
    if (!match) continue;
    const words = match[0];
    const found = link(match);
    if ('leavesOpen' in found) throw badInput(where, `${where}: “${words}” ${found.leavesOpen}.`);
    const lanes = found.lanes ?? 1;
    const hop = lanes >= 1 && lanes <= 32 ? hopOf(found.id, lanes) : undefined;
    if (hop) return { hop, words };
  }
  return null;
}
