import { elsewhere } from '#engine/system/elsewhere.ts';
import type { System } from '#engine/system/system.ts';

export const macos: System = { ...elsewhere, name: 'macOS' };
