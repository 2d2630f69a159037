import { SOUND_RATE } from '../../core/take/source';
import { DECODE_LIMITS } from './limits';
import { inputArguments, runTool } from './run';

/** The sound of a recording, one channel, from the time its clock starts; null where it has none. */
export async function soundOf(path: string): Promise<Float32Array | null> {
  const args = [
    ...['-v', 'error', '-nostdin', ...inputArguments(path), '-vn', '-map', '0:a:0?'],
    ...['-af', 'aresample=async=1:first_pts=0', '-ac', '1', '-ar', String(SOUND_RATE), '-f', 's16le', 'pipe:1'],
  ];
  const { stdout } = await runTool('ffmpeg', args, DECODE_LIMITS);
  if (stdout.length < 2) return null;
  const values = new Int16Array(stdout.buffer, stdout.byteOffset, stdout.length >> 1);
  return Float32Array.from(values, (v) => v / 32768);
}
