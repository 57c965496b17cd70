import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import type { Hop } from '#core/2-trade/links/connection.ts';
import type { Medium } from '#core/2-trade/drives/medium.ts';

/**
 * What Tavrox asks of the system it runs on. Linux, macOS and Windows answer in a folder of their own each; outside this
 * folder nothing asks which of them it is. What a system does not tell is null, empty or `unknown`, and never guessed.
 */
export interface System {
  name: SystemName;
  /** Volumes attached now that footage could be kept on. */
  volumes(): Promise<SystemVolume[]>;
  /** Links to a device as they are now; empty where they are not told. */
  linksNow(device: SystemDevice): Hop[];
  /** Flag to open files with, for reading and writing past the system’s cache; 0 where there is none. */
  directFlag: number;
  /** Does what is left to do after opening. @returns whether the descriptor now goes past the cache */
  bypassCache(descriptor: number): boolean;
  /** Brings names and sizes of what lies in a folder to its drive, as far as the system has a call for it. */
  flushVolume(folder: string): Promise<void>;
  /** Moves a folder to a name that nothing has; false where something has it, which stays as it is. */
  moveToFree(folder: string, place: string): Promise<boolean>;
  /** Bytes that a device moved since it appeared, by its number; null where it does not count. */
  diskBytes(deviceNumber: string | null): DiskBytes | null;
  /** Time of all processors together since the machine was started. */
  processorTimes(): ProcessorTimes;
  /** Seconds since the machine was started, the time that it slept counted; null where it does not tell. */
  secondsSinceBoot(): number | null;
  /** What a S.M.A.R.T. reader knows a device by; null where it is not told which it is. */
  readerName(device: SystemDevice): string | null;
  /** Reads a device’s temperature, °C; null where it has no sensor that may be read. */
  temperatureOf(device: SystemDevice): (() => number | null) | null;
  /** Whether the machine runs on its battery; null where it has none or does not tell. */
  onBattery(): boolean | null;
  /** Keeps the machine from sleeping until what it returns is called. */
  keepAwake(): () => void;
  /** What tells a process from a later one of the same number; empty where nothing does. */
  processMark(pid: number): string;
  /** Where programs of one user keep what is theirs, and what only has to be there while they run. */
  ownFolders(): { data: string; running: string };
  /** What to do where the system refuses a folder to this user, as a sentence. */
  whenRefused: string;
  /** What to do about a folder that is on no volume, as a sentence. */
  whenNowhere: string;
  /** Whether what a file’s mode says of others is what they may do. */
  hasFileModes: boolean;
  /** Whether functions of the system’s own libraries can be called. */
  canCall(): boolean;
  /** How programs are counted; null where the system does not count them. */
  programs: Programs | null;
  /** Memory of files: emptied so that what is read next comes from the drives. Null where no process may. */
  fileMemory: { canEmpty(): boolean; empty(): void } | null;
}

export type SystemName = 'Linux' | 'macOS' | 'Windows' | 'another system';

/** Where a fact of a volume comes from, in words a technician could look it up by; null where it is not known. */
export interface Told {
  identity: string | null;
  medium: string | null;
  link: string | null;
  counters: string | null;
}

/** A place where something can be measured, as the system tells of it. */
export interface SystemVolume {
  /** What is mounted there: a device file, a share, a volume’s own name. */
  source: string;
  mountPoint: string;
  label: string;
  /** As the system calls it, in small letters. */
  filesystem: string;
  totalBytes: number;
  /** What may still be written; room that the system would first have to make is not in it. */
  freeBytes: number;
  readOnly: boolean;
  /** Whether the system itself lies on it. */
  isSystem: boolean;
  medium: Medium;
  hops: Hop[];
  identity: Identity;
  /** Name of the drive behind it. */
  driveLabel: string;
  /** Volumes on one physical device share it. */
  deviceKey: string;
  /** What tells the room that it takes its own from. */
  spaceKey: string;
  discardSupported: boolean | null;
  device: SystemDevice;
  told: Told;
}

/** The device behind a volume, by what its system knows it by. */
export interface SystemDevice {
  /** By which what was moved is counted, of the part that the filesystem lies on. */
  deviceNumber: string | null;
  /** The same of the whole device. */
  diskNumber: string | null;
  /** Where the system keeps what it knows of the whole device. */
  diskFolder: string | null;
}

export const UNKNOWN_DEVICE: SystemDevice = { deviceNumber: null, diskNumber: null, diskFolder: null };

/** Bytes that a device moved since it appeared. */
export interface DiskBytes {
  readBytes: number;
  writeBytes: number;
}

/** Time of all processors together since the machine was started, in any one unit. */
export interface ProcessorTimes {
  busy: number;
  total: number;
}

/** What the system counted for processes. Bytes, calls and seconds. */
export interface ProcessCounters {
  readBytes: number;
  writtenBytes: number;
  askedReadBytes: number;
  askedWrittenBytes: number;
  readCalls: number;
  writeCalls: number;
  processorSeconds: number;
}

export interface ProcessEntry {
  pid: number;
  parent: number;
  name: string;
  /** What it was started with, shortened. */
  command: string;
  /** What tells it from a later process of the same number. */
  mark: string;
}

/** How a system counts what programs read and write. */
export interface Programs {
  /** Programs of the machine as they are now; those that end meanwhile are left out. */
  list(): ProcessEntry[];
  /** Null where it has ended. */
  find(pid: number): ProcessEntry | null;
  /** Null where it has ended. @throws the system’s error where it may not be looked at */
  counters(pid: number): ProcessCounters | null;
  /**
   * What starts a command so that it tells what it and everything it waited for came to, on descriptor 4, when it ends;
   * descriptor 3 is the command’s input.
   */
  wrapped(command: string, args: readonly string[]): { program: string; args: string[] };
  /** What such a command told; null where it did not. */
  readTold(text: string): ProcessCounters | null;
}
