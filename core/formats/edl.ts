import { taken, type Layer, type Rate } from './assembly';
import { toTimecode, type TimecodeRate } from '../calculators/timecode';

/**
 * Edit decision lists as SMPTE 258M has them, one video track a list: a line for each event with reel, track, kind and
 * four timecodes; `M2` for a speed that is not the reel's own; comments with an asterisk.
 */

/** The recording behind a take, as a list names it. */
export interface ReelOf {
  /** Letters and digits, at most eight. */
  reel: string;
  file: string;
  rate: Rate;
  /** The number of its first frame, as its own timecode counts; 0 where it has none. */
  first: number;
}

export interface ListOf {
  title: string;
  layer: Layer;
  rate: Rate;
  /** Whether its numbers are dropped to keep pace with the clock. */
  drop: boolean;
  reels: ReadonlyMap<string, ReelOf>;
}

/** The list begins at this hour, as is the custom. */
const FIRST_HOUR = 1;
const LONGEST_TITLE = 70;
/** The format counts its frames in two digits, and common machines no more than this. */
const FASTEST = 60;

/** How a rate is counted in a list; null for one that lists cannot count. */
export function listRate([over, under]: Rate, drop: boolean): TimecodeRate | null {
  const nominal = Math.round(over / under);
  if (nominal < 1 || nominal > FASTEST) return null;
  return { nominal, drop: drop && nominal % 30 === 0 && under === 1001 };
}

/** A reel's name as lists allow it. @param seat numbers of its setup, part and take */
export function reelName(seat: { setup: number; part: number; take: number }): string {
  const two = (n: number) => String(n % 100).padStart(2, '0');
  return `S${two(seat.setup)}P${(seat.part % 36).toString(36).toUpperCase()}T${two(seat.take)}`;
}

/** The list of one layer; null for a rate that lists cannot count. */
export function editDecisionList({ title, layer, rate, drop, reels }: ListOf): string | null {
  const counted = listRate(rate, drop);
  if (!counted) return null;
  const lines = [
    `TITLE: ${plain(title).slice(0, LONGEST_TITLE)}`,
    `FCM: ${counted.drop ? 'DROP FRAME' : 'NON-DROP FRAME'}`,
    '',
  ];
  const hour = FIRST_HOUR * 3600 * counted.nominal;
  const begin = counted.drop ? hour - FIRST_HOUR * 54 * (counted.nominal / 15) : hour;
  let number = 1;
  const event = (reel: string, from: number, to: number, start: number, end: number) => {
    const times = [from, to, begin + start, begin + end].map((f) => toTimecode(f, counted)).join(' ');
    lines.push(`${String(number++).padStart(3, '0')}  ${reel.padEnd(8)} V     C        ${times}`);
  };
  let at = 0;
  for (const piece of layer.pieces) {
    if (piece.start > at) event('BL', 0, piece.start - at, at, piece.start);
    at = piece.start + piece.frames;
    const { reel, file, rate: own, first } = reels.get(piece.take)!;
    // Frames of the reel as the list counts: by its own rate where that is another.
    const asListed = (n: number) => Math.round((n * (own[1] / own[0])) / (rate[1] / rate[0]));
    const from = asListed(first + piece.from);
    const used = piece.speed === 0 ? 1 : Math.max(1, Math.round(asListed(taken(piece, own, rate))));
    event(reel, from, from + used, piece.start, at);
    if (piece.speed !== 1) {
      const fps = (piece.speed * counted.nominal).toFixed(1).padStart(5, '0');
      lines.push(`M2   ${reel.padEnd(8)}       ${fps}                ${toTimecode(from, counted)}`);
    }
    lines.push(`* FROM CLIP NAME: ${plain(file)}`);
    if (layer.mask) lines.push(`* MASK: ${layer.mask.toUpperCase()}`);
  }
  return `${lines.join('\r\n')}\r\n`;
}

/** Lists are of plain letters. */
const plain = (text: string) =>
  text
    .normalize('NFKD')
    .replace(/[^\x20-\x7e]/g, '')
    .replace(/\s+/g, ' ')
    .trim();
