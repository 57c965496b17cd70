/** Generation of PCI Express by gigatransfers a second of a lane, as systems write them. */
export const PCIE_GENERATION_BY_SPEED: Readonly<Record<string, number>> = {
  '2.5': 1,
  '5.0': 2,
  '8.0': 3,
  '16.0': 4,
  '32.0': 5,
};
