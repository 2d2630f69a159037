import { rm, writeFile } from 'node:fs/promises';
import { seededNormal } from '../core/base/numeric/random';
import type { ActBeat } from './acts';

const RATE = 48000;
/** A clap dies away in so many seconds; the room is so much quieter. */
const DIES_S = 0.035;
const LOUD = 11000;
const ROOM = 12;

/** The sound of a stand-in take: a quiet room, and a clap on each strike and each step of light. */
export class ClapTrack {
  private constructor(private readonly path: string) {}

  /** Writes it beside the film that it will be part of. */
  static async beside(film: string, seconds: number, beats: readonly ActBeat[]): Promise<ClapTrack> {
    const normal = seededNormal(4242);
    const samples = Float32Array.from({ length: Math.round(seconds * RATE) }, () => ROOM * normal());
    for (const { time_s: at, kind } of beats) {
      if (kind !== 'strikes' && kind !== 'light') continue;
      const from = Math.round(at * RATE);
      for (let k = 0; k < 8 * DIES_S * RATE && from + k < samples.length; k++)
        samples[from + k] += LOUD * Math.exp(-k / (DIES_S * RATE)) * normal() * 0.4;
    }
    const path = `${film}.pcm`;
    const bytes = Int16Array.from(samples, (v) => Math.max(-32768, Math.min(32767, Math.round(v))));
    await writeFile(path, Buffer.from(bytes.buffer));
    return new ClapTrack(path);
  }

  /** What ffmpeg is told to read it, and to write it. */
  get input(): string[] {
    return ['-f', 's16le', '-ar', String(RATE), '-ac', '1', '-i', `file:${this.path}`];
  }

  get output(): string[] {
    return ['-c:a', 'aac', '-b:a', '96k', '-shortest'];
  }

  async drop(): Promise<void> {
    await rm(this.path, { force: true });
  }
}
