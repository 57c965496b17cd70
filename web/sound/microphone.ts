import { levelSeconds } from '#core/2-trade/sound/level-meter.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { ToldLevel } from './level-worklet.ts';
import workletAddress from './level-worklet.ts?worker&url';

export interface Microphone {
  /** Its name, as the browser tells it. */
  name: string;
  /** Seconds of each level. */
  stepSeconds: number;
  close(): void;
}

const REFUSED: Record<string, string> = {
  NotAllowedError:
    'The browser was not allowed to use the microphone. Allow it for this page, in the browser’s address line, then press Listen again.',
  NotFoundError: 'There is no microphone on the machine that shows this page. Plug one in, then press Listen again.',
  NotReadableError: 'Another program holds the microphone. Close that one, then press Listen again.',
};

/** Browsers alter what they hear to suit speech; here every part of it is measured as it comes. */
const AS_IT_COMES = { echoCancellation: false, noiseSuppression: false, autoGainControl: false, channelCount: 1 };

/**
 * Opens the microphone; the browser asks the person.
 * @param tell each level
 * @param lost the microphone is gone
 * @throws Problem that says what to do
 */
export async function openMicrophone(tell: (level: ToldLevel) => void, lost: () => void): Promise<Microphone> {
  // Browsers show the microphone to pages of a safe origin only, whatever their types say.
  const devices = navigator.mediaDevices as MediaDevices | undefined;
  if (!devices) {
    throw new Problem(
      'no-microphone',
      'A browser lets a page listen only on the machine that Tavrox runs on, or at an address with https.',
    );
  }
  let stream: MediaStream;
  try {
    stream = await devices.getUserMedia({ audio: AS_IT_COMES });
  } catch (error) {
    const { name, message } = error as DOMException;
    throw new Problem('no-microphone', REFUSED[name] ?? `The microphone did not open: ${message}`);
  }
  const context = new AudioContext();
  const close = (): void => {
    for (const track of stream.getTracks()) track.stop();
    void context.close();
  };
  try {
    await context.audioWorklet.addModule(workletAddress);
    const meter = new AudioWorkletNode(context, 'level-meter', { numberOfOutputs: 0 });
    meter.port.onmessage = ({ data }: MessageEvent<ToldLevel>) => tell(data);
    context.createMediaStreamSource(stream).connect(meter);
    await context.resume();
  } catch (error) {
    close();
    throw new Problem('no-microphone', 'This browser cannot listen from a page. Another one may.', { cause: error });
  }
  const [track] = stream.getAudioTracks();
  track?.addEventListener('ended', lost);
  return { name: track?.label ?? '', stepSeconds: levelSeconds(context.sampleRate), close };
}
