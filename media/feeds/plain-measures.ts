import type { Delivery } from '../../core/take/cover';
import { mkdir } from 'node:fs/promises';
import { basename, join } from 'node:path';
import Joi from 'joi';
import type { TakeFacts } from '../../core/report/summaries';
import { ALL_MEASURES, type AnyMeasure } from '../../core/measures';
import type { Feed, FedTake } from './feed';
import { FEEDS } from './feeds';
import { keptPath } from '../store/kept-files';

/** Measures besides those of the app, with their feeds. */
export interface KnownMeasures {
  measures?: readonly AnyMeasure[];
  feeds?: Record<string, Feed<never>>;
}

/** Makes measures of plain files as the app makes them of takes, in a folder of its own for what they keep. */
export class PlainMeasures {
  readonly measures: readonly AnyMeasure[];
  private readonly feeds: Record<string, Feed<never>>;

  constructor(
    readonly root: string,
    private readonly delivery: Delivery | undefined,
    private readonly say: (text: string) => void,
    known: KnownMeasures = {},
  ) {
    this.measures = [...ALL_MEASURES, ...(known.measures ?? [])];
    this.feeds = { ...FEEDS, ...known.feeds };
  }

  /** What the edit is finished at: as given, else as the first file is. */
  deliveryOf([first]: readonly FedTake[]): { width: number; height: number; fps: number } {
    const { width = 1920, height = 1080, measured_fps: fps = 25 } = first.facts?.media ?? {};
    const given = this.delivery;
    return { width: given?.width ?? width, height: given?.height ?? height, fps: given?.fps ?? fps ?? 25 };
  }

  /** Makes one measure. @throws UnusableMedia */
  async make(measure: AnyMeasure, takes: FedTake[], wish: object, plate: FedTake | null = null): Promise<object> {
    const subject = { recording: takes[0].hash, take: takes[0].id, itself: 'one' };
    await mkdir(join(this.root, measure.files.folder), { recursive: true });
    const task = { takes, plate, wish: wish as never, delivery: this.deliveryOf(takes), root: this.root, id: 'one' };
    return this.feeds[measure.key](task, {
      signal: new AbortController().signal,
      progress: (done, total, doing) => this.say(doing || (total ? `frame ${done} of ${total} ` : `frame ${done} `)),
      fresh: (name) => keptPath(this.root, measure.files, subject, name),
    });
  }

  /** A file as a take that measures can be made of, with what they need of it measured first. */
  async fed(path: string, id: string, forMeasures: readonly AnyMeasure[], name = basename(path)): Promise<FedTake> {
    const take: FedTake = { id, path, hash: `file-${id}`, name, facts: null, known: {} };
    const needs = new Set<string>(forMeasures.flatMap((m) => [...m.needs, ...m.uses]));
    for (const need of needs) {
      const other = this.measures.find((m) => m.key === need);
      if (other?.takes !== 1) continue;
      take.known[need] = await this.make(other, [take], other.wish(Joi).validate({}).value as object);
      if (need === 'take') take.facts = take.known[need] as TakeFacts;
    }
    return take;
  }
}
