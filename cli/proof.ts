import { coverOf } from '../media/feeds/measure-take';
import { rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { planProof } from '../core/measures/cut/proof-plan';
import { UnusableMedia } from '../media/errors';
import { renderProof } from '../media/write/proof';
import { frameTimes } from '../media/ffmpeg/frame-index';
import { probeFile } from '../media/ffmpeg/probe';
import { parseFrame, UsageError } from './arguments';
import { readEdges } from './edges';

interface ProofValues {
  at?: string;
  'in-at'?: string;
  edges?: string;
  mirror?: boolean;
  speed?: string;
  out?: string;
}

/** Renders the in side behind what covers the out side. */
export async function proof(
  files: string[],
  values: ProofValues,
  say: (text: string) => void,
  print: (report: object, text: string) => void,
): Promise<number> {
  if (files.length !== 2)
    throw new UsageError(
      `proof wants two files, ${files.length} were given. Use: umbrastat proof OUT IN --out proof.mp4.`,
    );
  if (values.out === undefined || !/\.(mp4|webm)$/i.test(values.out))
    throw new UsageError('Say where to save the proof: --out proof.mp4 or --out proof.webm.');
  const speed = values.speed === undefined ? 100 : Number(values.speed);
  if (!(speed >= 10 && speed <= 1000))
    throw new UsageError(`--speed ${values.speed} is no speed. Give per cent, 10 to 1000.`);
  const [out, into] = files.map((path) => ({ path, name: basename(path) }));
  const at = parseFrame('--at', values.at),
    inStart = parseFrame('--in-at', values['in-at']) ?? 0;
  const probe = await probeFile(into.path, into.name);
  const times = await frameTimes(into.path, probe, into.name);
  if (inStart >= times.length)
    throw new UsageError(`"${into.name}" has frames 0 to ${times.length - 1}; --in-at ${inStart} is not among them.`);
  const { measure, shape, media } = await coverOf(out.path, {
    hand: values.edges === undefined ? null : await readEdges(values.edges),
    onProgress: (done) => say(`frame ${done} `),
  });
  const fps = Math.min(60, media.measured_fps ?? 25);
  const inFps = times.length > 1 ? (times.length - 1) / (times[times.length - 1] - times[0]) : fps;
  const plan = planProof(
    measure,
    { at: at ?? null, in_start: inStart, speed_pct: speed, mirror: values.mirror ?? false, feather_px: null },
    { outCount: media.frame_count, outFps: fps, inCount: times.length, inFps, fps },
  );
  if (!plan)
    throw new UnusableMedia(
      `Nothing covers "${out.name}" far enough for a cut. Choose a frame with --at, or another take.`,
      'no-cut',
    );
  const asked = values.out.toLowerCase().endsWith('.webm') ? 'webm' : 'mp4';
  const beside = (kind: string) => join(dirname(values.out!), `.${basename(values.out!)}.${process.pid}.${kind}`);
  const paths = { mp4: beside('mp4'), webm: beside('webm'), jpegs: beside('jpegs'), [asked]: values.out };
  try {
    const made = await renderProof(out, into, shape, plan, paths, {
      mirror: values.mirror ?? false,
      onProgress: (done, total) => say(`proof ${done} of ${total} `),
    });
    print(
      {
        file: values.out,
        ...made,
        fps,
        mode: plan.mode,
        from: plan.from,
        done: plan.done,
        feather_px: plan.feather_px,
        in_missing: plan.in_missing,
      },
      `${values.out}: ${made.frames} frames, in side from under frame ` +
        `${plan.from}${plan.done === null ? '' : `, alone from ${plan.done} on`}, feather ${plan.feather_px.toFixed(0)} px`,
    );
  } finally {
    for (const [kind, path] of Object.entries(paths)) if (kind !== asked) await rm(path, { force: true });
  }
  return 0;
}
