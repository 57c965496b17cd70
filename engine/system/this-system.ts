import { elsewhere } from '#engine/system/elsewhere.ts';
import { linux } from '#engine/system/linux/linux.ts';
import { macos } from '#engine/system/macos/macos.ts';
import type { System } from '#engine/system/system.ts';
import { windows } from '#engine/system/windows/windows.ts';

const SYSTEMS: Partial<Record<NodeJS.Platform, System>> = { linux, darwin: macos, win32: windows };

/** The system that this process runs on. */
export const system: System = SYSTEMS[process.platform] ?? elsewhere;
