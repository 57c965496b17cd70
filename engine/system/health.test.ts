import { expect, it } from 'vitest';
import { healthOf, type Reader } from '#engine/system/health.ts';
import { UNKNOWN_DEVICE } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';

const DEVICE = { deviceNumber: '8:1', diskNumber: '8:0', diskFolder: '/sys/devices/made-up/block/sda' };
const answering =
  (text: string | null, asked: string[] = []): Reader =>
  (args) => {
    asked.push(...args);
    return Promise.resolve(text);
  };

it.skipIf(system.name !== 'Linux')('a drive is asked by its name and not woken, and what it says is read', async () => {
  const asked: string[] = [];
  const answer = await healthOf(DEVICE, answering('{"temperature":{"current":41}}', asked));
  expect(asked).toEqual(['--json', '--all', '--nocheck=standby', '/dev/sda']);
  expect(answer).toMatchObject({ health: { celsius: 41, wornShare: null }, why: null });
});

it.skipIf(system.name !== 'Linux').each([
  [null, /^Install smartmontools/],
  ['smartctl 6.6', /prints no JSON/],
  [
    '{"smartctl":{"messages":[{"string":"Smartctl open device: /dev/sda failed: Permission denied"}]}}',
    /administrator/,
  ],
  ['{"smartctl":{"messages":[{"string":"Device is in STANDBY mode"}]}}', /asleep/],
  ['{"smartctl":{"exit_status":4}}', /pass nothing on/],
])('what cannot be read says what would let it: %s', async (text, why) => {
  const answer = await healthOf(DEVICE, answering(text));
  expect(answer.health).toBeNull();
  expect(answer.why).toMatch(why);
});

it('a device that is not known is not asked', async () => {
  const asked: string[] = [];
  expect((await healthOf(UNKNOWN_DEVICE, answering('{}', asked))).why).toMatch(/does not say which drive/);
  expect(asked).toEqual([]);
});
