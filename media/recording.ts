import { decodeAhead, pictures, type DecodeOptions } from './frames';
import { frameIndex, type FrameIndex } from './frame-index';
import { assureFile, probeWithIndex, type Probe } from './probe';
import { assureAtRest } from './whole';
import type { Picture } from '../core/image/picture';

/** A recording that is being decoded. Close it in any case. */
export interface Recording {
  probe: Probe;
  /** Which pictures it holds, without decoding. @throws UnusableMedia when there is not one picture */
  index: () => Promise<FrameIndex>;
  /** Its frames, once; see `pictures`. */
  pictures: () => AsyncGenerator<Picture>;
  /** What decoding complained of, once the frames have been read. */
  complaints: () => string;
  close: () => Promise<void>;
}

/**
 * Looks into a recording and starts decoding it at the same time: each takes its while to start.
 * @throws UnusableMedia with a sentence when it is none
 */
export async function openRecording(path: string, name: string, options: DecodeOptions): Promise<Recording> {
  await assureFile(path, name);
  await assureAtRest(path, name);
  options.signal?.throwIfAborted();
  const ahead = decodeAhead(path, options);
  try {
    const { probe, index } = await probeWithIndex(path, name);
    let said = '';
    const heard = { ...options, onComplaint: (text: string) => (said = text) };
    return {
      probe,
      index: async () => index ?? frameIndex(path, probe, name),
      pictures: () => pictures(path, probe, heard, ahead),
      complaints: () => said,
      close: () => ahead.stop(),
    };
  } catch (error) {
    await ahead.stop();
    throw error;
  }
}
