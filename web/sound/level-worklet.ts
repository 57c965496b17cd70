import { createLevelMeter } from '#core/2-trade/sound/level-meter.ts';

/** What the audio thread gives; the language's own libraries do not declare it. */
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: new () => AudioWorkletProcessor): void;
declare const sampleRate: number;
declare const currentTime: number;

/** A level that left the audio thread. */
export interface ToldLevel {
  /** By the audio's own clock, seconds, at its end. */
  atSeconds: number;
  decibels: number;
}

/** Hears the microphone in the audio thread: only levels leave it, and nothing is kept of the sound. */
class LevelProcessor extends AudioWorkletProcessor {
  private readonly take = createLevelMeter(sampleRate, (decibels) => {
    this.port.postMessage({ atSeconds: currentTime, decibels } satisfies ToldLevel);
  });

  process([input]: readonly (readonly Float32Array[])[]): boolean {
    const channel = input?.[0];
    if (channel) this.take(channel);
    return true;
  }
}

registerProcessor('level-meter', LevelProcessor);
