import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { rename, writeFile } from 'node:fs/promises';
import { createCanvas, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import type { Similarity } from '../core/base/geometry/similarity';
import { seededNormal, seededRandom } from '../core/base/numeric/random';
import { writingFailed } from '../media/errors';
import { feedTool } from '../media/ffmpeg/run';
import { actOf, openTimes, type Act, type ActBeat } from './acts';
import { ClapTrack } from './claps';
import { lightTables, paintCrate, paintTree, planFaults, type FaultTruth } from './faults';
import { COMES, paintLostShadow, paintPerformer, paintVisitor, performerAt } from './performer';
import { MARGIN, paintScene, type Scene } from './scenes';
import type { CameraSettings } from './settings';
import { tripodPath } from './tripod';
import { paintMovingScene, paintOccluder, planWipe, type Wipe, type WipeTruth } from './wipe';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min, round } = Math;

/** What really happened in a stand-in take. */
export interface TakeTruth {
  settings: CameraSettings;
  /** Camera movement against the first frame: source pixels, degrees clockwise. */
  path: { dx_px: number[]; dy_px: number[]; rotation_deg: number[]; scale: number[] };
  /** Frames in which the performer is in. */
  present: boolean[];
  /** Frames in which a shadow falls in whose owner is not in. */
  shadow: boolean[];
  faults: FaultTruth;
  wipe: WipeTruth | null;
  /** What happens on a frame: the first frame that shows it. */
  beats: (ActBeat & { frame: number })[];
}

export interface RecordOptions {
  /** Where a picture of the latest frame is kept up to date, as JPEG. */
  preview?: string;
  signal?: AbortSignal;
  onProgress?: (frames: number) => void;
}

/** Time stamps as a phone gives them that records when it finds the time. */
const WANDER = "settb=1/90000,setpts='(N/FPS+0.011*sin(N*1.7)+0.006*sin(N*0.31)+0.017)/TB'";

/**
 * Records a take to an H.264 MP4 and gives the truth about it.
 * @throws Error when ffmpeg cannot write the file, or the signal's reason
 */
export async function recordTake(
  settings: CameraSettings,
  path: string,
  options: RecordOptions = {},
): Promise<TakeTruth> {
  const width = settings.width;
  const height = Math.round((width * 9) / 32) * 2;
  const scene = paintScene(settings.scene, width, settings.prop !== 'lantern-off');
  const poses = tripodPath(settings);
  const act = actOf(settings, scene);
  const claps = settings.clap ? await ClapTrack.beside(path, settings.seconds, act?.beats ?? []) : null;
  const canvas = createCanvas(width, height);
  const ctx = canvas.getContext('2d');
  const child = spawn(
    'ffmpeg',
    [
      '-v',
      'error',
      '-nostdin',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb0',
      '-s',
      `${width}x${height}`,
      '-r',
      String(settings.fps),
      '-i',
      'pipe:0',
      ...(claps?.input ?? []),
      '-vf',
      settings.rate === 'wandering'
        ? `scale=out_color_matrix=bt709,${WANDER.replace('FPS', String(settings.fps))}`
        : 'scale=out_color_matrix=bt709',
      ...(settings.rate === 'wandering' ? ['-fps_mode', 'passthrough', '-video_track_timescale', '90000'] : []),
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      '20',
      '-pix_fmt',
      'yuv420p',
      '-colorspace',
      'bt709',
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
      ...(claps?.output ?? []),
      '-movflags',
      '+faststart',
      `file:${path}`,
    ],
    { stdio: ['pipe', 'ignore', 'pipe'], signal: options.signal, killSignal: 'SIGKILL' },
  );
  let errors = '';
  child.stderr.on('data', (d: Buffer) => {
    errors += d.toString('utf8');
  });
  child.stdin.on('error', () => undefined);
  const closed = once(child, 'close');
  child.once('close', () => void claps?.drop());
  closed.catch(() => undefined);
  const grain = new Grain(settings.grain, settings.seed);
  const rgb = new Uint32Array(width * height);
  const faults = planFaults(settings);
  const wipe = planWipe(settings, width, height);
  const soft = createCanvas(width, height);
  const softCtx = soft.getContext('2d');
  const acted = act && { act, smear: createCanvas(width, height), one: createCanvas(width, height) };
  const laid = wipe || settings.tripod !== 'still' ? null : layersOf(scene, width, height);
  const present: boolean[] = [],
    shadow: boolean[] = [];
  for (let f = 0; f < poses.length; f++) {
    options.signal?.throwIfAborted();
    const someone = act ? null : performerAt(settings, f / poses.length, scene);
    const visits = ['in-opening', 'leaves-opening'].includes(settings.crossing) && f / poses.length >= COMES;
    const shown = paintFrame(ctx, scene, poses[f], f, settings, { wipe, laid, acted }, width, height);
    present.push((someone !== null && !someone.gone) || visits || shown.acts);
    shadow.push(shown.shadow);
    const blur = faults.blur_px[f];
    if (blur > 0.2) {
      // Under it the sharp picture, so that the frame's edge does not fade into black.
      softCtx.drawImage(canvas, 0, 0);
      softCtx.filter = `blur(${blur.toFixed(2)}px)`;
      softCtx.drawImage(canvas, 0, 0);
      softCtx.filter = 'none';
    }
    grain.addTo((blur > 0.2 ? soft : canvas).data(), rgb, lightTables(faults, f));
    if (child.exitCode !== null) break;
    await feedTool(child.stdin, Buffer.from(rgb.slice().buffer), closed);
    if (options.preview && f % 6 === 0) {
      await keepPreview(options.preview, await canvas.encode('jpeg', 70));
    }
    options.onProgress?.(f + 1);
    // Let timers and messages through between frames.
    await new Promise((resolve) => {
      setImmediate(resolve);
    });
  }
  child.stdin.end();
  const [code] = (await closed) as [number | null];
  if (code !== 0) throw writingFailed('The stand-in camera could not write its file', errors);
  return {
    settings,
    present,
    shadow,
    faults,
    wipe: wipe && wipe.truth,
    beats: (act?.beats ?? []).map((b) => ({ ...b, frame: Math.ceil(b.time_s * settings.fps - 1e-6) })),
    path: {
      dx_px: poses.map((p) => p.dx),
      dy_px: poses.map((p) => p.dy),
      rotation_deg: poses.map((p) => (p.rotation * 180) / Math.PI),
      scale: poses.map((p) => p.scale),
    },
  };
}

/** A preview that cannot be written is done without: the recording itself tells of a full disk. */
async function keepPreview(path: string, picture: Buffer): Promise<void> {
  await writeFile(`${path}.new`, picture)
    .then(() => rename(`${path}.new`, path))
    .catch(() => undefined);
}

/** What lies behind and before everybody, as the camera sees it that never moves: laid there once. */
type Laid = Map<'back' | 'front', Canvas>;

function layersOf(scene: Scene, width: number, height: number): Laid {
  return new Map(
    (['back', 'front'] as const).map((of) => {
      const canvas = createCanvas(width, height);
      canvas.getContext('2d').drawImage(scene[of], -MARGIN * scene.unit, -MARGIN * scene.unit);
      return [of, canvas];
    }),
  );
}

/** What is acted, with room to smear it. */
interface Acted {
  act: Act;
  smear: Canvas;
  one: Canvas;
}

/** Paints what is acted as it is while the shutter is open; says whether a performer shows. */
function paintActed(ctx: SKRSContext2D, { act, smear, one }: Acted, t: number, fps: number, unit: number): boolean {
  const times = openTimes(act, t, fps, unit);
  if (times.length === 1) return act.paint(ctx, t);
  const [sum, single] = [smear.getContext('2d'), one.getContext('2d')];
  const clear = (c: SKRSContext2D) => {
    c.setTransform(1, 0, 0, 1, 0, 0);
    c.clearRect(0, 0, smear.width, smear.height);
  };
  clear(sum);
  sum.globalCompositeOperation = 'lighter';
  sum.globalAlpha = 1 / times.length;
  let shows = false;
  for (const at of times) {
    clear(single);
    single.setTransform(ctx.getTransform());
    shows = act.paint(single, at) || shows;
    sum.drawImage(one, 0, 0);
  }
  sum.globalAlpha = 1;
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.drawImage(smear, 0, 0);
  ctx.restore();
  return shows;
}

/** Paints a frame; says whether whoever acts shows, and whether a shadow without its owner fell in. */
function paintFrame(
  ctx: SKRSContext2D,
  scene: Scene,
  pose: Similarity,
  frame: number,
  settings: CameraSettings,
  { wipe, laid, acted }: { wipe: Wipe | null; laid: Laid | null; acted: Acted | null },
  width: number,
  height: number,
): { acts: boolean; shadow: boolean } {
  const { unit } = scene;
  const share = frame / Math.round(settings.seconds * settings.fps);
  const c = pose.scale * Math.cos(pose.rotation);
  const s = pose.scale * Math.sin(pose.rotation);
  const cx = width / 2,
    cy = height / 2;
  // The painting's pixel (x, y) belongs at (x - margin) in the frame, moved about the frame's centre.
  const place = (k: number, margin: number) =>
    ctx.setTransform(
      c * k,
      s * k,
      -s * k,
      c * k,
      cx + pose.dx - c * (cx + margin) + s * (cy + margin),
      cy + pose.dy - s * (cx + margin) - c * (cy + margin),
    );
  ctx.imageSmoothingEnabled = true;
  ctx.imageSmoothingQuality = 'high';
  if (wipe) {
    const moves = wipe.camera[frame];
    paintMovingScene(ctx, scene, 'back', moves, width, height);
    paintMovingScene(ctx, scene, 'front', moves, width, height);
    if (settings.tree && moves.dx === 0 && moves.scale === 1) {
      place(unit, 0);
      glitter(ctx, scene, frame / settings.fps);
      paintTree(ctx, frame / settings.fps);
    }
    if (settings.wipe_side !== 'in') paintOccluder(ctx, wipe, frame);
    return { acts: false, shadow: false };
  }
  const layer = (of: 'back' | 'front') => {
    const known = laid?.get(of);
    if (known) {
      ctx.setTransform(1, 0, 0, 1, 0, 0);
      ctx.imageSmoothingEnabled = false;
      ctx.drawImage(known, 0, 0);
      ctx.imageSmoothingEnabled = true;
      return;
    }
    place(1, MARGIN * unit);
    ctx.drawImage(scene[of], 0, 0);
  };
  layer('back');
  place(unit, 0);
  glitter(ctx, scene, frame / settings.fps);
  if (settings.prop === 'crate' || settings.prop === 'crate-off') paintCrate(ctx, settings, scene.ground);
  const lost = settings.crossing === 'shadow-only' && paintLostShadow(ctx, share, scene.ground);
  const visits = settings.crossing === 'in-opening' || settings.crossing === 'leaves-opening';
  if (visits) paintVisitor(ctx, settings, share, scene.window);
  const t = frame / settings.fps;
  const acts = acted !== null && paintActed(ctx, acted, t, settings.fps, unit);
  const someone = acted ? null : performerAt(settings, share, scene);
  const before = settings.crossing === 'slips-before';
  if (someone && !before) paintPerformer(ctx, someone, settings.seed);
  layer('front');
  if (someone && before) {
    place(unit, 0);
    paintPerformer(ctx, someone, settings.seed);
  }
  if (settings.tree) {
    place(unit, 0);
    paintTree(ctx, frame / settings.fps);
  }
  if (acted?.act.light) {
    place(unit, 0);
    acted.act.light(ctx, t);
  }
  return { acts, shadow: lost };
}

/** Light on the water: streaks that come and go and never keep their place. */
function glitter(ctx: SKRSContext2D, scene: Scene, t: number): void {
  const { x, y, width, height } = scene.water;
  const random = seededRandom(9001);
  ctx.save();
  ctx.beginPath();
  ctx.rect(x - MARGIN, y + 2, width + 2 * MARGIN, height - 8);
  ctx.clip();
  for (let i = 0; i < 420; i++) {
    const u = random(),
      v = random() ** 1.4,
      phase = random() * 6.28,
      speed = 0.8 + 2 * random();
    const shine = Math.sin(t * speed * 2 + phase);
    if (shine < 0) continue;
    const depth = y + v * height;
    const length = 5 + 26 * v;
    ctx.fillStyle = `rgba(235,175,120,${0.3 * shine * (1 - 0.5 * v)})`;
    ctx.fillRect(x - MARGIN + u * (width + 2 * MARGIN) + 9 * Math.sin(t * speed + phase), depth, length, 1 + 1.6 * v);
  }
  ctx.restore();
}

/** Values from -128 on, kept within 0 to 255. */
const CLAMP_FROM = 128;
const CLAMPED = Uint8Array.from({ length: 512 }, (_, v) => Math.max(0, Math.min(255, v - CLAMP_FROM)));

/** Sensor grain: the same spread everywhere, new in every frame. */
class Grain {
  private readonly table: Int8Array;
  private readonly random: () => number;

  constructor(sigma: number, seed: number) {
    const normal = seededNormal(seed * 17 + 11);
    this.table = new Int8Array(1 << 19);
    for (let i = 0; i < this.table.length; i++) this.table[i] = max(-127, min(127, round(sigma * normal())));
    this.random = seededRandom(seed * 13 + 7);
  }

  /** Writes `rgba`, relit by the tables, with grain into `out`. */
  addTo(rgba: Uint8Array, out: Uint32Array, tables: readonly [Uint8Array, Uint8Array, Uint8Array] | null): void {
    const { table } = this;
    const pixels = new Uint32Array(rgba.buffer, rgba.byteOffset, rgba.length >> 2);
    for (let from = 0; from < pixels.length; from += RUN) {
      const to = min(pixels.length, from + RUN),
        start = floor(this.random() * table.length);
      if (tables) addRelit(pixels, from, to, table, start, tables, out);
      else addRun(pixels, from, to, table, start, out);
    }
  }
}

/** Pixels that take their grain from one place of the table. */
const RUN = 2048;

function addRun(pixels: Uint32Array, from: number, to: number, table: Int8Array, start: number, out: Uint32Array) {
  const clamped = CLAMPED,
    mask = table.length - 1;
  for (let i = from, at = start; i < to; i++, at++) {
    const n = CLAMP_FROM + table[at & mask],
      v = pixels[i];
    out[i] = clamped[(v & 255) + n] | (clamped[((v >> 8) & 255) + n] << 8) | (clamped[((v >> 16) & 255) + n] << 16);
  }
}

function addRelit(
  pixels: Uint32Array,
  from: number,
  to: number,
  table: Int8Array,
  start: number,
  [red, green, blue]: readonly [Uint8Array, Uint8Array, Uint8Array],
  out: Uint32Array,
) {
  const clamped = CLAMPED,
    mask = table.length - 1;
  for (let i = from, at = start; i < to; i++, at++) {
    const n = CLAMP_FROM + table[at & mask],
      v = pixels[i];
    out[i] =
      clamped[red[v & 255] + n] |
      (clamped[green[(v >> 8) & 255] + n] << 8) |
      (clamped[blue[(v >> 16) & 255] + n] << 16);
  }
}
