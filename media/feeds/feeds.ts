import { planJoined } from '../../core/measures/joined/plan-joined';
import { measuresOf } from '../../core/take/analysis';
import { againstOf, takeOf } from '../ffmpeg/file-source';
import { analyseTake, coverOf } from './measure-take';
import type { MeasuredTake } from '../../core/take/measured-take';
import { readFile, writeFile } from 'node:fs/promises';
import { planProof } from '../../core/measures/cut/proof-plan';
import { JOINING_WAYS } from '../../core/measures/joined/joining-ways';
import { packGaps } from '../../core/movers/kept';
import type { MeasureKey, ResultOf, WishOf } from '../../core/measures';
import type { CoverResult } from '../../core/report/wipe-types';
import { comparePlate } from '../../core/take/compare';
import { UnusableMedia } from '../errors';
import { fileOf, type FedTake, type Feed, type FeedTask } from './feed';
import { partsOf } from '../../core/take/joined-parts';
import { renderJoined } from '../write/joined-proof';
import { decodeFinely } from '../../core/take/fine-outlines';
import {
  packAnalysis,
  packFine,
  packPictures,
  unpackAnalysis,
  unpackFine,
  unpackPictures,
} from '../store/kept-analysis';
import { keepWhole } from '../store/kept-files';
import { packShape, unpackShape } from '../store/kept-shape';
import { findBeats } from '../../core/take/beats';
import { findCloth } from '../../core/take/cloth';
import { findCut } from '../../core/take/cut';
import { findFigure } from '../../core/take/figure';
import { findHide } from '../../core/take/hide';
import { findMeet } from '../../core/take/meet';
import { evenTogether, findPair } from '../../core/take/pair';
import { findSpot } from '../../core/take/spot';
import { findStills } from '../../core/take/stills';
import { findZone } from '../../core/take/zone';
import { outlinesOf } from '../../core/take/outlines';
import { indexRow } from '../write/picture-row';
import { plateFromRun, stitchPlate } from '../../core/take/plate';
import { renderProof } from '../write/proof';
import { writeCutout, writeJpeg, writePng } from '../write/still-out';

/** Width of the pictures for stepping through a take. */
export const PROXY_WIDTH = 960;

/** The feed of every measure. */
export const FEEDS: { [K in MeasureKey]: Feed<WishOf<K>, ResultOf<K>> } = {
  async take({ takes: [take] }, { signal, progress, fresh }) {
    const proxy = { path: fresh('jpegs'), width: PROXY_WIDTH };
    const found = await analyseTake(take.path, { name: take.name, proxy, signal, onProgress: progress });
    await indexRow(proxy.path, fresh('jpegs.index'));
    const outlines = outlinesOf(found);
    if (outlines) await writeFile(fresh('outlines.json'), JSON.stringify(outlines));
    await writeFile(fresh('analysis'), packAnalysis(found));
    await writeFile(fresh('pictures'), packPictures(found));
    return measuresOf(found);
  },

  async beats(task, { signal, progress }) {
    const take = await outlinedTake(task, task.takes[0], signal);
    return findBeats(take, { signal, onProgress: (doing) => progress(0, 0, doing) });
  },

  async cloth(task, { signal, progress }) {
    const take = await outlinedTake(task, task.takes[0], signal);
    const plate = await plateOf(task, signal);
    if (!plate)
      throw new UnusableMedia(
        'The cloth is told from the performer by an empty frame. Roll the plate of this setup.',
        'plate',
      );
    const { width, height } = take.analysis.probe;
    const { look } = task.wish;
    const at = look ? { x: look.x * width, y: look.y * height, frame: look.frame } : undefined;
    return findCloth(take, plate, { look: at, signal, onProgress: (doing) => progress(0, 0, doing) });
  },

  async compare(task, { signal }) {
    const take = await analysedTake(task, task.takes[0], signal);
    const against = await analysedTake(task, task.takes[1], signal);
    return comparePlate(take, against, { signal });
  },

  async cover({ takes: [take], wish, delivery }, { signal, progress, fresh }) {
    const total = take.facts?.media.frame_count ?? 0;
    const { measure, shape } = await coverOf(take.path, {
      name: take.name,
      signal,
      hand: wish.hand,
      delivery,
      onProgress: (done) => progress(done, total),
    });
    await writeFile(fresh('shape'), packShape(shape));
    return { ...measure, edges: { way: shape.way, lead: shape.lead, trail: shape.trail } };
  },

  async cut({ takes: [out, into], delivery }, { signal, progress }) {
    const cover = out.known.cover as CoverResult | undefined;
    const at = cover?.cut.out_last_frame ?? undefined;
    const onProgress = (doing: string) => progress(0, 0, doing);
    return (
      await findCut(await againstOf(out.path, out.name), await againstOf(into.path, into.name), {
        signal,
        at,
        delivery,
        onProgress,
      })
    ).measure;
  },

  async figure(task, { signal, progress }) {
    const take = await outlinedTake(task, task.takes[0], signal);
    const { width, height } = take.analysis.probe;
    const outline = task.wish.zone?.map(([x, y]): [number, number] => [x * width, y * height]);
    return findFigure(take, await plateOf(task, signal), {
      ...{ outline, signal },
      onProgress: (doing) => progress(0, 0, doing),
    });
  },

  async hide(task, { signal, progress }) {
    const take = await outlinedTake(task, task.takes[0], signal);
    const onProgress = (doing: string) => progress(0, 0, doing);
    return findHide(take, await plateOf(task, signal), { at: task.wish.at ?? undefined, signal, onProgress });
  },

  async joined(task, { signal, progress, fresh }) {
    const { wish, delivery } = task;
    const [first, second] = task.takes;
    const media = [first, second].map((t) => t.facts?.media);
    const plan = planJoined(wish, { first: media[0]?.frame_count ?? 0, second: media[1]?.frame_count ?? 0 });
    if (!plan) throw new UnusableMedia('No frame of the one meets a frame of the other. Slide it back.', 'no-frame');
    const fps = Math.min(60, media[0]?.measured_fps ?? delivery.fps);
    const paths = { mp4: fresh('mp4'), webm: fresh('webm'), jpegs: fresh('jpegs') };
    const { parts: parting, toldByEmpty } = JOINING_WAYS[wish.how];
    const told = parting === 'told';
    if (told) progress(0, 0, 'cutting out what lies over the other');
    const needs = told || wish.even;
    const files =
      needs && ([await outlinedTake(task, first, signal), await outlinedTake(task, second, signal)] as const);
    // Of a pass and its plate the second is the empty frame.
    const empty = told && files && ((await plateOf(task, signal)) ?? (toldByEmpty ? files[1] : null));
    const parts = told && files ? await partsOf(wish, plan, files, empty || null, signal) : {};
    const even = wish.even && files ? await evenTogether(files[0], files[1], signal) : null;
    const made = await renderJoined(first, second, wish, plan, paths, {
      fps,
      parts,
      even,
      signal,
      onProgress: progress,
    });
    await indexRow(paths.jpegs, fresh('jpegs.index'));
    return { ...plan, ...made, fps, even: { px: even?.px ?? 0, stops: even?.stops ?? 0 } };
  },

  async meet(task, { signal, progress }) {
    const [a, b] = [await outlinedTake(task, task.takes[0], signal), await outlinedTake(task, task.takes[1], signal)];
    const { width, height } = a.analysis.probe;
    const { at, rate_pct: ratePct } = task.wish;
    return findMeet(a, b, await plateOf(task, signal), {
      at: at ? { x: at.x * width, y: at.y * height } : undefined,
      ratePct: ratePct ?? undefined,
      signal,
      onProgress: (doing) => progress(0, 0, doing),
    });
  },

  async outlines(task, { signal, progress, fresh }) {
    const { source, analysis } = await analysedTake(task, task.takes[0], signal);
    progress(0, 0, 'outlining whoever is in');
    const fine = await decodeFinely(source, analysis, signal);
    await writeFile(fresh('fine'), packFine(fine));
    const known = fine?.frames.filter((f) => f !== null).length ?? 0;
    return { grid: fine && { width: fine.width, height: fine.height, factor: fine.factor }, known_frames: known };
  },

  async pair(task, { signal, progress, fresh }) {
    const a = await outlinedTake(task, task.takes[0], signal),
      b = await outlinedTake(task, task.takes[1], signal);
    const onProgress = (doing: string) => progress(0, 0, doing);
    const { found, table, outlines } = await findPair(a, b, {
      plate: (await plateOf(task, signal)) ?? undefined,
      signal,
      drawn: true,
      onProgress,
    });
    await writeFile(fresh('outlines.json'), JSON.stringify(outlines));
    if (table) await writeFile(fresh('gaps'), packGaps(table));
    return found;
  },

  async plate(task, { signal, progress, fresh }) {
    const { takes, wish } = task;
    progress(0, 0, 'looking at the take');
    const from = await analysedTake(task, takes[0], signal);
    const against = takes[1].id === takes[0].id ? from : await analysedTake(task, takes[1], signal);
    const options = { keepGrain: wish.keep_grain, signal, onProgress: (what: string) => progress(0, 0, what) };
    const made = wish.run ? await plateFromRun(from, wish.run, options) : await stitchPlate(from, options);
    if (!made)
      throw new UnusableMedia(
        `Nothing is known of who stands where in "${from.name}", so no plate can be stitched from it. Roll a plate.`,
        'no-plate',
      );
    progress(0, 0, 'writing the picture');
    await writePng(made.picture, fresh('png'));
    await writeJpeg(made.picture, fresh('png.jpg'), PROXY_WIDTH);
    progress(0, 0, 'holding it against the take');
    const comparison = await comparePlate(against, await againstOf(fresh('png'), 'plate'), { signal });
    const { width, height, most } = made.picture;
    return { source: made.source, comparison, width, height, bit_depth: most === 255 ? 8 : 16 };
  },

  async proof(task, { signal, progress, fresh }) {
    const { wish, delivery } = task;
    const [out, into] = task.takes;
    const cover = out.known.cover as CoverResult | undefined;
    const bytes = await readFile(fileOf(task, 'cover', out, 'shape')).catch(() => null);
    const shape = bytes && unpackShape(bytes);
    if (!cover || !shape || !out.facts || !into.facts)
      throw new UnusableMedia(
        'What covers the out side is not measured yet. Wait until it is, and make the proof again.',
        'missing',
      );
    const fps = Math.min(60, delivery.fps);
    const plan = planProof(cover, wish, {
      outCount: out.facts.media.frame_count,
      outFps: out.facts.media.measured_fps ?? fps,
      inCount: into.facts.media.frame_count,
      inFps: into.facts.media.measured_fps ?? fps,
      fps,
    });
    if (!plan)
      throw new UnusableMedia(
        'Nothing covers the out side far enough for a cut. Choose the frame to cut at, or another take.',
        'no-cut',
      );
    const paths = { mp4: fresh('mp4'), webm: fresh('webm'), jpegs: fresh('jpegs') };
    const made = await renderProof(out, into, shape, plan, paths, {
      mirror: wish.mirror,
      signal,
      onProgress: progress,
    });
    await indexRow(paths.jpegs, fresh('jpegs.index'));
    const { frames, ...rest } = plan;
    return { ...rest, ...made, out: frames.map((f) => f.out), in: frames.map((f) => f.in) };
  },

  async spot(task, { signal, progress }) {
    const [a, b] = [await outlinedTake(task, task.takes[0], signal), await outlinedTake(task, task.takes[1], signal)];
    const onProgress = (doing: string) => progress(0, 0, doing);
    return findSpot(a, b, await plateOf(task, signal), task.wish, { signal, onProgress });
  },

  async stills(task, { signal, progress, fresh }) {
    const take = await outlinedTake(task, task.takes[0], signal);
    const onProgress = (doing: string) => progress(0, 0, doing);
    return findStills(take, await plateOf(task, signal), {
      ...{ count: task.wish.count, delivery: task.delivery, signal, onProgress },
      onStill: async (frame, _, cutout) => {
        await writeCutout(cutout, fresh(`cutout-${frame}.png`));
        return null;
      },
    });
  },

  async zone(task, { signal, progress }) {
    const { zone } = task.wish;
    if (!zone) throw new UnusableMedia('No zone is drawn. Draw it on the reference picture first.', 'no-zone');
    const take = await outlinedTake(task, task.takes[0], signal);
    const { width, height } = take.analysis.probe;
    const outline = zone.map(([x, y]): [number, number] => [x * width, y * height]);
    return findZone(take, outline, await plateOf(task, signal), {
      signal,
      onProgress: (doing) => progress(0, 0, doing),
    });
  },
};

/** The empty frame to tell by who stands in the takes; null without one of their size. */
async function plateOf(task: FeedTask, signal: AbortSignal): Promise<MeasuredTake | null> {
  const { plate, takes } = task;
  const [own, other] = [plate, takes[0]].map((t) => t?.facts?.media);
  const fits = own && other && own.width === other.width && own.height === other.height;
  return plate && fits ? analysedTake(task, plate, signal) : null;
}

/** A take with all that was found in it; measured again when that was not kept. */
async function analysedTake(task: FeedTask, take: FedTake, signal: AbortSignal): Promise<MeasuredTake> {
  const { path, name } = take;
  const at = (name: string) => fileOf(task, 'take', take, name);
  const [bytes, pictures] = await Promise.all(
    ['analysis', 'pictures'].map((name) => readFile(at(name)).catch(() => null)),
  );
  const known = bytes && unpackAnalysis(bytes);
  if (known) return takeOf(path, name, { ...known, kept: pictures && unpackPictures(pictures) });
  const analysis = await analyseTake(path, { name, signal });
  await keepWhole(at('analysis'), packAnalysis(analysis));
  await keepWhole(at('pictures'), packPictures(analysis));
  return takeOf(path, name, analysis);
}

/** The same with whoever is in outlined finely, where that is known. */
async function outlinedTake(task: FeedTask, take: FedTake, signal: AbortSignal): Promise<MeasuredTake> {
  const file = await analysedTake(task, take, signal);
  const bytes = await readFile(fileOf(task, 'outlines', take, 'fine')).catch(() => null);
  return bytes ? { ...file, analysis: { ...file.analysis, fine: unpackFine(bytes) } } : file;
}
