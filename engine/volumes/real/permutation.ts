/**
 * A fixed disorder of the numbers 0 … count − 1: each comes exactly once, none near the one before.
 * A Feistel network over the next power of four, walked until the number lies in range (Black &
 * Rogaway, *Ciphers with arbitrary finite domains*, 2002), so that nothing has to be kept in memory.
 */
export function permutation(count: number, seed: number): (index: number) => number {
  const halfBits = Math.max(1, Math.ceil(Math.log2(Math.max(2, count)) / 2));
  const size = 2 ** halfBits;
  const mask = size - 1;
  const keys = [0x9e37_79b9, 0x85eb_ca6b, 0xc2b2_ae35, 0x27d4_eb2f].map((key) => (key ^ seed) >>> 0);
  const round = (value: number, key: number): number => {
    let mixed = Math.imul(value ^ key, 0x45d9_f3b5);
    mixed ^= mixed >>> 15;
    mixed = Math.imul(mixed, 0x2c1b_3c6d);
    return (mixed ^ (mixed >>> 13)) & mask;
  };
  const encrypt = (index: number): number => {
    let [left, right] = [Math.floor(index / size), index & mask];
    for (const key of keys) [left, right] = [right, left ^ round(right, key)];
    return left * size + right;
  };
  return (index) => {
    let at = encrypt(index);
    while (at >= count) at = encrypt(at);
    return at;
  };
}
