import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { assureLooked, LookFailed, UnusableMedia } from '../errors';
import { readingLimits } from './limits';
import { inputArguments, runTool } from './run';

/** What reading a file without decoding tells of its pictures. */
export interface FrameIndex {
  /** Presentation times in order, seconds; NaN where the file gives none. */
  times: number[];
  /** Packets in the file, those not shown included. */
  packets: number;
  /** Whether the file ends before what it promises. */
  endsEarly: boolean;
}

/** What a reader says of a file that ends before what it promises. */
export const ENDS_EARLY = /partial file|ended prematurely|Truncat|overread|Packet corrupt/i;

/** When a packet is shown and when it is decoded, in seconds, as ffprobe prints them; left out where the file does not say. */
export interface PacketTimes {
  pts?: string;
  dts?: string;
  flags?: string;
}

/** Which of a file's streams is its picture. */
interface Picked {
  stream: number;
}

/** What the packets of a picture's stream tell. @param remarks what reading them complained of */
export function indexOf(packets: readonly PacketTimes[], remarks = ''): FrameIndex {
  return { times: shownTimes(packets), packets: packets.length, endsEarly: ENDS_EARLY.test(remarks) };
}

/**
 * Reads which pictures a file holds, without decoding.
 * @throws UnusableMedia when there is not one picture
 */
export async function frameIndex(path: string, { stream }: Picked, shownName = basename(path)): Promise<FrameIndex> {
  const printed = await runTool(
    'ffprobe',
    [
      '-v',
      'error',
      '-select_streams',
      String(stream),
      '-show_entries',
      'packet=pts_time,dts_time,flags',
      '-of',
      'csv=p=0',
      ...inputArguments(path),
    ],
    readingLimits((await stat(path)).size),
  );
  assureLooked(printed, `"${shownName}"`);
  if (printed.code !== 0) throw new LookFailed(`ffprobe ended with ${printed.code} while it read "${shownName}"`);
  const lines = printed.stdout.toString('utf8').split('\n');
  const packets = lines.filter((line) => line.trim()).map((line) => line.split(','));
  const told = (text: string | undefined) => (text === 'N/A' ? undefined : text || undefined);
  const index = indexOf(
    packets.map(([pts, dts, flags]) => ({ pts: told(pts), dts: told(dts), flags })),
    printed.stderr,
  );
  if (index.times.length === 0)
    throw new UnusableMedia(
      `"${shownName}" breaks off before its first frame. Copy it from the card again.`,
      'truncated',
    );
  return index;
}

/** The times of `frameIndex` alone. @throws UnusableMedia when there is not one picture */
export async function frameTimes(path: string, probe: Picked, shownName = basename(path)): Promise<number[]> {
  return (await frameIndex(path, probe, shownName)).times;
}

/** Sorted presentation times of shown packets, in seconds. */
function shownTimes(packets: readonly PacketTimes[]): number[] {
  const times = packets
    .filter(({ flags }) => !flags?.includes('D'))
    .map(({ pts, dts }) => Number(pts ?? dts ?? NaN))
    .map((time) => (Number.isFinite(time) ? time : NaN));
  if (times.some(Number.isNaN)) return times.map(() => NaN);
  return times.sort((a, b) => a - b);
}
