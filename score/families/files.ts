import { analyseTake } from '../../media/feeds/measure-take';
import { measureCut } from '../../media/feeds/measure-files';
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { probeFile } from '../../media/ffmpeg/probe';
import type { CutMeasure } from '../../core/report/wipe-types';
import { baseOf, handheld, walk, type Base } from '../base';
import { allOf, holds, keptClip, numberIs, verdictIs, type ScoreClip } from '../clip';
import type { ClipRecipe } from '../compose';
import { paintFigure } from '../subjects';

/** A camera that pans: the picture goes so many widths a second, at an angle. */
function pan({ recipe }: Base, name: string, widths: number, angle: number, seed: number): [string, ClipRecipe] {
  const { width, fps } = recipe;
  const frames = Math.round(1.4 * fps);
  const [vx, vy] = [Math.cos(angle), Math.sin(angle)].map((v) => (v * widths * width) / fps);
  return [
    name,
    {
      ...recipe,
      ...{ frames, room: 0.75 * widths + 0.1, seed: recipe.seed + seed, paint: () => undefined },
      camera: (f) => ({ dx: vx * (f - frames / 2), dy: vy * (f - frames / 2), rotation: 0, scale: 1 }),
    },
  ];
}

const RELATIONS: readonly [what: string, ratio: number, turn: number, relation: CutMeasure['relation']][] = [
  ['two pans alike', 1, 0, 'same'],
  ['the in side twice as fast', 2, 0, 'same'],
  ['one against the other', 1, Math.PI, 'against'],
  ['one across the other', 1, Math.PI / 2, 'across'],
  ['the in side at 0.7', 0.7, 0, 'same'],
  ['15 degrees apart', 1, Math.PI / 12, 'same'],
];

/** Two sides of a cut that both move. */
export async function cut(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 7);
  const [what, ratio, turn, relation] = RELATIONS[(k + (sealed ? 1 : 0)) % RELATIONS.length];
  const angle = (k * Math.PI) / 6;
  const speed = 0.25 + 0.05 * (k % 5);
  const [outName, out] = pan(base, `${what}, out side`, speed, angle, 0);
  const other = await baseOf(k + 1, sealed, 7);
  const [inName, into] = pan(
    { ...other, recipe: { ...other.recipe, width: base.recipe.width, height: base.recipe.height } },
    `${what}, in side`,
    speed * ratio,
    angle + turn,
    1,
  );
  const judge = async () => {
    const [a, b] = [await keptClip('files', outName, out), await keptClip('files', inName, into)];
    const told = await measureCut(a.path, b.path);
    return allOf(
      numberIs('speed', told.out.speed_widths_per_s, speed, 0.05 * speed),
      numberIs('ratio', told.speed_ratio, ratio, 0.05 * ratio),
      numberIs('angle between', told.angle_gap_deg, (turn * 180) / Math.PI, 3),
      holds(told.relation === relation, `${told.relation} for ${relation}`),
      verdictIs(told.verdict, ratio === 1 && turn < Math.PI / 9, told.reasons),
    );
  };
  return { name: `${what}, ${Math.round((angle * 180) / Math.PI)} degrees`, judge };
}

/** Several recordings as one file, as if the camera had been stopped and started again. */
async function joined(parts: [string, ClipRecipe][]): Promise<string> {
  const paths: string[] = [];
  for (const [name, recipe] of parts) paths.push((await keptClip('files', name, recipe)).path);
  const out = paths[0].replace('.mp4', `-${paths.length}-${parts.length && paths.at(-1)!.slice(-12, -4)}.mp4`);
  if (existsSync(out)) return out;
  const inputs = paths.flatMap((path) => ['-i', `file:${path}`]);
  const filter = `${paths.map((_, k) => `[${k}:v]`).join('')}concat=n=${paths.length}:v=1[v]`;
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', `${parts[0][1].crf}`];
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-nostdin',
    '-y',
    ...inputs,
    '-filter_complex',
    filter,
    '-map',
    '[v]',
    ...code,
    `file:${out}`,
  ]);
  return out;
}

type Made = [
  what: string,
  shots: (base: Base, other: Base) => { parts: [string, ClipRecipe][]; cuts: number[]; stops: number[] },
];
const shot = (
  { recipe, cloth, trousers }: Base,
  name: string,
  frames: number,
  from: number,
  to: number,
): [string, ClipRecipe] => [
  name,
  {
    ...recipe,
    frames,
    seed: recipe.seed + Math.round(100 * from),
    paint: (ctx, at) => paintFigure(ctx, walk(recipe, from + ((to - from) * at) / frames, at), cloth, trousers),
  },
];
const MADE: readonly Made[] = [
  ['one shot', (a) => ({ parts: [shot(a, 'one shot', 80, 0, 1)], cuts: [], stops: [] })],
  [
    'a shot of two frames at the head',
    (a, b) => ({ parts: [shot(b, 'head', 2, 0.4, 0.42), shot(a, 'after it', 80, 0, 1)], cuts: [2], stops: [] }),
  ],
  [
    'two stops',
    (a) => ({
      parts: [
        shot(a, 'to the first stop', 40, 0, 0.35),
        shot(a, 'to the second', 30, 0.55, 0.75),
        shot(a, 'to the end', 40, 0.2, 0.5),
      ],
      cuts: [40, 70],
      stops: [40, 70],
    }),
  ],
  [
    'two shots',
    (a, b) => ({
      parts: [shot(a, 'first shot', 50, 0, 0.6), shot(b, 'second shot', 60, 0, 0.7)],
      cuts: [50],
      stops: [],
    }),
  ],
  [
    'by hand, one shot',
    (a) => {
      const [name, recipe] = shot(a, 'one shot by hand', 80, 0, 1);
      return { parts: [[name, { ...recipe, camera: handheld(a.seed, 9) }]], cuts: [], stops: [] };
    },
  ],
  [
    'a light that goes on',
    (a) => ({
      parts: [
        [...shot(a, 'light goes on', 80, 0, 1)].map((v) =>
          typeof v === 'string' ? v : { ...v, light: (f: number) => (f >= 40 ? 0.8 : 0) },
        ) as [string, ClipRecipe],
      ],
      cuts: [],
      stops: [],
    }),
  ],
];

/** What a file holds: shots, and stops of the camera. */
export async function file(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 8);
  const other = await baseOf(k + 1, sealed, 8);
  const [what, shotsOf] = MADE[(k + (sealed ? 1 : 0)) % MADE.length];
  const { width, height, fps } = base.recipe;
  const { parts, cuts, stops } = shotsOf(base, { ...other, recipe: { ...other.recipe, width, height, fps } });
  const judge = async () => {
    const path = await joined(parts);
    await probeFile(path, what);
    const { media } = await analyseTake(path, { name: what });
    return allOf(
      holds(
        media.cuts.join() === cuts.join(),
        `cuts at ${media.cuts.join(', ') || 'none'}, truly ${cuts.join(', ') || 'none'}`,
      ),
      holds((media.stops ?? []).join() === stops.join(), `stops at ${media.stops?.join(', ') ?? 'none'}`),
      holds(
        media.complete && media.frame_count === parts.reduce((n, [, r]) => n + r.frames, 0),
        `${media.frame_count} frames`,
      ),
    );
  };
  return { name: `${what}, ${base.look} clothes`, judge };
}
