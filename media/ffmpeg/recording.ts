import type { Reading } from '../../core/take/source';
import { decodeAhead, pictures, type DecodeOptions } from './frames';
import { frameIndex } from './frame-index';
import { assureFile, probeWithIndex } from './probe';
import { assureAtRest, brokenFrames, wholenessOf } from './whole';
import { rateOf } from '../../core/measures/file/facts';

/**
 * Looks into a recording and starts decoding it at the same time: each takes its while to start. Which pictures it holds
 * is read while they are decoded.
 * @throws UnusableMedia with a sentence when it is none
 */
export async function openRecording(path: string, name: string, options: DecodeOptions): Promise<Reading> {
  await assureFile(path, name);
  await assureAtRest(path, name);
  options.signal?.throwIfAborted();
  const ahead = decodeAhead(path, options);
  try {
    const { probe, index } = await probeWithIndex(path, name);
    const { run } = options;
    let expected = run
      ? run.end - run.start + 1
      : Math.round((probe.declaredDuration ?? 0) * (rateOf(probe.containerFps) || 25));
    const indexed = (async () => index ?? (await frameIndex(path, probe, name)))();
    indexed.then(
      ({ times }) => {
        if (!run) expected = times.length;
      },
      () => undefined,
    );
    let complaints = '',
      count = 0;
    const heard = { ...options, onComplaint: (text: string) => (complaints = text) };
    return {
      facts: probe,
      expected: () => expected,
      async *pictures() {
        for await (const picture of pictures(path, probe, heard, ahead)) {
          count++;
          yield picture;
        }
      },
      async ending() {
        const known = await indexed;
        const { times } = known;
        return {
          times,
          broken: await brokenFrames(path, complaints, times),
          ...wholenessOf(probe, known, count, complaints),
        };
      },
      close: () => ahead.stop(),
    };
  } catch (error) {
    await ahead.stop();
    throw error;
  }
}
