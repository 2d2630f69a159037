import { open, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import type { PictureFacts } from '../../core/take/source';
import { assureLooked, LookFailed, UnusableMedia } from '../errors';
import { indexOf, type FrameIndex } from './frame-index';
import { PROBE_LIMITS } from './limits';
import { inputArguments, runTool, type StillFormat } from './run';

/** What a file says of itself before any picture is decoded. */
export type Probe = PictureFacts;

interface ProbeJson {
  packets?: PacketJson[];
  format?: { format_name?: string; duration?: string; tags?: Record<string, string> };
  streams?: ProbeStream[];
}
interface PacketJson {
  stream_index: number;
  pts_time?: string;
  dts_time?: string;
  flags?: string;
}
/** What a tool printed, and how it ended. */
type Printed = Awaited<ReturnType<typeof runTool>>;

interface ProbeStream {
  index: number;
  codec_type?: string;
  codec_name?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  bits_per_raw_sample?: string;
  sample_aspect_ratio?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  nb_frames?: string;
  duration?: string;
  color_range?: string;
  color_transfer?: string;
  color_space?: string;
  tags?: Record<string, string>;
  disposition?: Record<string, number>;
  side_data_list?: { rotation?: number }[];
}

/**
 * Looks at a file from outside and at its first bytes, without handing it to any tool.
 * @param stillsToo whether one still picture will do (PNG, JPEG, WebP, TIFF)
 * @throws UnusableMedia with a sentence when it cannot be what is asked for
 */
export async function assureFile(
  path: string,
  shownName = basename(path),
  stillsToo = false,
): Promise<{ head: Buffer; still: StillFormat | null }> {
  const name = `"${shownName}"`;
  const info = await stat(path).catch(() => null);
  if (!info) throw new UnusableMedia(`${name} was not found. Check the name and the folder.`, 'missing');
  if (info.isDirectory()) throw new UnusableMedia(`${name} is a folder. Give one video file.`, 'folder');
  if (!info.isFile()) throw new UnusableMedia(`${name} is not a plain file. Give one video file.`, 'not-a-file');
  if (info.size === 0) throw new UnusableMedia(`${name} is empty (0 bytes). Copy it from the card again.`, 'empty');
  const head = await readHead(path);
  const still = stillsToo ? stillFormat(head) : null;
  if (!still) refuseText(head, name);
  return { head, still };
}

/**
 * Opens a file by its content and reads what it says of itself.
 * @param stillsToo whether one still picture will do (PNG, JPEG, WebP, TIFF)
 * @throws UnusableMedia with a sentence when it is no usable picture of the kind asked for
 */
export async function probeFile(path: string, shownName = basename(path), stillsToo = false): Promise<Probe> {
  const { head, still } = await assureFile(path, shownName, stillsToo);
  const looked = await runTool('ffprobe', [...HEADERS, ...inputArguments(path, still)], PROBE_LIMITS);
  return probeOf(looked, `"${shownName}"`, head, still);
}

/**
 * The same of a recording; and which pictures it holds, where it is so small that one look finds that too.
 * @throws UnusableMedia with a sentence when it is no usable recording
 */
export async function probeWithIndex(
  path: string,
  shownName: string,
): Promise<{ probe: Probe; index: FrameIndex | null }> {
  if (((await stat(path).catch(() => null))?.size ?? 0) > SMALL_BYTES)
    return { probe: await probeFile(path, shownName), index: null };
  const { head } = await assureFile(path, shownName);
  const looked = await runTool('ffprobe', [...HEADERS, ...PACKETS, ...inputArguments(path)], PROBE_LIMITS);
  const probe = probeOf(looked, `"${shownName}"`, head, null);
  const packets = said(looked, shownName).packets?.filter((p) => p.stream_index === probe.stream) ?? [];
  const index = indexOf(packets.map(({ pts_time, dts_time, flags }) => ({ pts: pts_time, dts: dts_time, flags })));
  // What is amiss may lie in its sound alone: then its pictures are read by themselves.
  return { probe, index: index.times.length === 0 || looked.stderr ? null : index };
}

const HEADERS = ['-v', 'error', '-print_format', 'json', '-show_format', '-show_streams'];
const PACKETS = ['-show_entries', 'packet=stream_index,pts_time,dts_time,flags'];
/** Of a file up to this size all packets are read while it is looked into. */
const SMALL_BYTES = 64 * 1024 * 1024;

/** What ffprobe found, as far as it can be used. @throws UnusableMedia with a sentence when it cannot */
function probeOf(streams: Printed, name: string, head: Buffer, still: StillFormat | null): Probe {
  assureLooked(streams, name);
  const json = said(streams, name);
  if (streams.code !== 0 || !json.streams?.length) throw unreadable(name, head, streams.stderr);
  const video = json.streams.find((s) => s.codec_type === 'video' && (still || !s.disposition?.attached_pic));
  if (!video) {
    const audio = json.streams.some((s) => s.codec_type === 'audio');
    throw new UnusableMedia(
      audio
        ? `${name} has sound but no picture. Choose the clip that was recorded with the camera.`
        : `${name} has no moving picture in it. Choose a video file (MP4, MOV, WebM or MKV).`,
      audio ? 'audio-only' : 'no-video',
    );
  }
  if (!video.width || !video.height || !video.codec_name || video.codec_name === 'none') {
    throw new UnusableMedia(
      `${name} holds a picture in a format that cannot be decoded here. Copy or export it as H.264 or H.265 and try again.`,
      'codec',
    );
  }
  const [sarX, sarY] = ratio(video.sample_aspect_ratio, ':');
  const squareWidth = Math.max(1, Math.round((video.width * sarX) / sarY));
  assureSize(video.width, video.height, name);
  if (squareWidth !== video.width) assureSize(squareWidth, video.height, name);
  const turned = rotationOf(video);
  const upright = turned === 90 || turned === 270;
  return {
    stream: video.index,
    still,
    width: upright ? video.height : squareWidth,
    height: upright ? squareWidth : video.height,
    rotationDeg: turned,
    squarePixels: sarX === sarY,
    container: json.format?.format_name ?? 'unknown',
    codec: video.codec_name,
    pixelFormat: video.pix_fmt ?? 'unknown',
    fullRange: video.color_range === 'pc' || /^yuvj/.test(video.pix_fmt ?? ''),
    bitDepth: bitDepthOf(video),
    containerFps:
      video.r_frame_rate && video.r_frame_rate !== '0/0' ? video.r_frame_rate : (video.avg_frame_rate ?? '0/0'),
    timecode:
      video.tags?.timecode ??
      json.streams.find((s) => s.tags?.timecode)?.tags?.timecode ??
      json.format?.tags?.timecode ??
      null,
    transferTag: known(video.color_transfer),
    matrixTag: known(video.color_space),
    declaredDuration: secondsOf(json.format?.duration),
    pictureDuration: secondsOf(video.duration) ?? secondsOf(video.tags?.DURATION),
    declaredFrames: Number(video.nb_frames) > 0 ? Number(video.nb_frames) : null,
  };
}

/** What ffprobe printed. @throws LookFailed when that breaks off although the tool went well */
function said({ code, stdout }: Printed, name: string): ProbeJson {
  try {
    return JSON.parse(stdout.toString('utf8') || '{}') as ProbeJson;
  } catch {
    if (code === 0) throw new LookFailed(`what ffprobe says about ${name} breaks off`);
    return {};
  }
}

/** Sides and pixels of a picture that are taken in: a plate takes some 33 bytes a pixel while it is made. */
const LEAST_SIDE = 32;
const MOST_SIDE = 16384;
const MOST_PIXELS = 64e6;

/** @throws UnusableMedia when a picture of this size, as coded or as shown with square pixels, is not measured */
function assureSize(width: number, height: number, name: string): void {
  const sides = Math.min(width, height) < LEAST_SIDE || Math.max(width, height) > MOST_SIDE;
  if (!sides && width * height <= MOST_PIXELS) return;
  const limit = sides ? `${LEAST_SIDE} to ${MOST_SIDE} px a side` : `up to ${MOST_PIXELS / 1e6} million pixels`;
  throw new UnusableMedia(
    `${name} is ${width} x ${height}; pictures of ${limit} can be measured. Use the camera's own file.`,
    'size',
  );
}

/** "6.000000" or "00:00:06.000000000" in seconds; null when it says nothing. */
function secondsOf(text: string | undefined): number | null {
  const parts = (text ?? '').split(':').map(Number);
  const seconds = parts.reduce((sum, part) => 60 * sum + part, 0);
  return seconds > 0 && Number.isFinite(seconds) ? seconds : null;
}

function known(tag: string | undefined): string | null {
  return tag && tag !== 'unknown' && tag !== 'unspecified' && tag !== 'reserved' ? tag : null;
}

/** The first bytes of a file. */
async function readHead(path: string): Promise<Buffer> {
  const file = await open(path, 'r');
  try {
    const head = Buffer.alloc(1024);
    const { bytesRead } = await file.read(head, 0, head.length, 0);
    return head.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

/** The format of a still picture, by its first bytes. */
function stillFormat(bytes: Buffer): StillFormat | null {
  const text = bytes.toString('latin1');
  if (text.startsWith('\x89PNG')) return 'png_pipe';
  if (text.startsWith('\xFF\xD8\xFF')) return 'jpeg_pipe';
  if (text.startsWith('RIFF') && text.slice(8, 12) === 'WEBP') return 'webp_pipe';
  return isTiff(text) ? 'tiff_pipe' : null;
}

const isTiff = (head: string) => head.startsWith('II*\0') || head.startsWith('MM\0*');

/** Text files, playlists and pictures get their own sentence; everything else is left to the container's own check. */
function refuseText(bytes: Buffer, name: string): void {
  const text = bytes.toString('latin1');
  if (/^(\uFEFF|\xEF\xBB\xBF)?\s*(#EXTM3U|ffconcat |\[playlist\]|<\?xml[^>]*>\s*<(MPD|smil|asx)|<MPD)/i.test(text)) {
    throw new UnusableMedia(`${name} is a playlist that points at other files. Give the clip itself.`, 'playlist');
  }
  if (text.startsWith('YUV4MPEG2')) return;
  const isText = bytes.every((b) => b === 9 || b === 10 || b === 13 || (b >= 32 && b !== 127));
  if (isText) throw new UnusableMedia(`${name} is a text file, not a recording. Choose the clip itself.`, 'text');
  const still =
    text.startsWith('\x89PNG') ||
    text.startsWith('\xFF\xD8\xFF') ||
    text.startsWith('GIF8') ||
    (text.startsWith('RIFF') && text.slice(8, 12) === 'WEBP') ||
    isTiff(text);
  if (still) throw new UnusableMedia(`${name} is a still picture. Choose a recording of a second or more.`, 'picture');
}

function unreadable(name: string, head: Buffer, stderr: string): UnusableMedia {
  const known =
    /^(ftyp|moov|mdat|wide|free|skip)$/.test(head.toString('latin1', 4, 8)) ||
    head.toString('latin1', 0, 4) === '\x1aE\xdf\xa3';
  if (known && /moov atom not found|Truncat|EBML header parsing failed/i.test(stderr)) {
    return new UnusableMedia(
      `${name} breaks off: the part that says where the frames are is missing. Copy it from the card again, or let the camera repair it.`,
      'truncated',
    );
  }
  if (/whitelist|Protocol not on/i.test(stderr)) {
    return new UnusableMedia(
      `${name} is in a format that is not opened here: some formats can point at other files. Give the clip ` +
        `itself as MP4, MOV, WebM or MKV.`,
      'format',
    );
  }
  return new UnusableMedia(
    `${name} is not a video file that can be read (it was opened by its content, not its name). Give an MP4, MOV, WebM or MKV.`,
    'unreadable',
  );
}

function ratio(text: string | undefined, separator: string): [number, number] {
  const [a, b] = (text ?? '').split(separator).map(Number);
  return a > 0 && b > 0 ? [a, b] : [1, 1];
}

function rotationOf(stream: ProbeStream): 0 | 90 | 180 | 270 {
  const side = stream.side_data_list?.find((d) => typeof d.rotation === 'number')?.rotation;
  const clockwise = side !== undefined ? -side : Number(stream.tags?.rotate ?? 0);
  return ((((Math.round(clockwise / 90) * 90) % 360) + 360) % 360) as 0 | 90 | 180 | 270;
}

function bitDepthOf(stream: ProbeStream): number {
  const declared = Number(stream.bits_per_raw_sample);
  if (declared > 0) return declared;
  const match = /(?:p|gray|gbrp|x2rgb|x2bgr)(9|10|12|14|16)(?:le|be)?$/.exec(stream.pix_fmt ?? '');
  return match ? Number(match[1]) : 8;
}
