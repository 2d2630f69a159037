import type { Delivery } from '../core/take/cover';
import { PURPOSES } from '../core/tricks/library/purposes';
import type { Purpose } from '../core/tricks/types';

/** The command line cannot be understood. The message says what to type instead. */
export class UsageError extends Error {}

/** "1920x1080@24" or "1920x1080". @throws UsageError */
export function parseDelivery(text: string): Delivery {
  const match = /^(\d{2,5})x(\d{2,5})(?:@(\d+(?:\.\d+)?)(?:\/(\d+))?)?$/.exec(text.trim());
  const width = Number(match?.[1]);
  const height = Number(match?.[2]);
  const fps = match?.[3] ? Number(match[3]) / Number(match[4] ?? 1) : null;
  if (!match || width < 16 || height < 16 || (fps !== null && !(fps >= 1 && fps <= 1000))) {
    throw new UsageError(`--delivery "${text}" is not a size and rate. Write it like 1920x1080@24.`);
  }
  return { width, height, fps };
}

/** A frame's number, or nothing. @throws UsageError */
export function parseFrame(option: string, text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  if (!/^\d{1,8}$/.test(text.trim()))
    throw new UsageError(`${option} "${text}" is not a frame. Give its number, counted from 0.`);
  return Number(text);
}

/** What a take is for; a locked pass where nothing is said. @throws UsageError */
export function parsePurpose(text: string | undefined): Purpose {
  if (text === undefined) return 'locked';
  if (!(text in PURPOSES))
    throw new UsageError(`--for "${text}" is nothing a take is for. Say ${Object.keys(PURPOSES).join(', ')}.`);
  return text as Purpose;
}

/** A shot's number, counted from 1, or nothing. @throws UsageError */
export function parseShot(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  if (!/^[1-9]\d{0,5}$/.test(text.trim()))
    throw new UsageError(`--shot "${text}" is not a shot. Give its number, counted from 1.`);
  return Number(text);
}

/** A shutter as it was noted: "1/50" (seconds) or "180deg" (of the clip's own rate). */
export type Shutter = { seconds: number } | { degrees: number };

/** A shutter, or nothing. @throws UsageError */
export function parseShutter(option: string, text: string | undefined): Shutter | undefined {
  if (text === undefined) return undefined;
  const time = /^1\/(\d{1,5}(?:\.\d+)?)$/.exec(text.trim()),
    angle = /^(\d{1,3}(?:\.\d+)?)deg$/.exec(text.trim());
  const seconds = 1 / Number(time?.[1]),
    degrees = Number(angle?.[1]);
  if (seconds >= 1e-5 && seconds <= 1) return { seconds };
  if (degrees > 0 && degrees <= 360) return { degrees };
  throw new UsageError(`${option} "${text}" is not a shutter. Write it like 1/50, or like 180deg.`);
}

/** A shutter's time, seconds; null where nothing is known of it. @param fps the rate at which it was recorded */
export function shutterSeconds(shutter: Shutter | undefined, fps: number | null): number | null {
  if (!shutter) return null;
  if ('seconds' in shutter) return shutter.seconds;
  return fps === null ? null : shutter.degrees / 360 / fps;
}

/** How many frames later something is laid; negative for earlier, 0 where nothing is said. @throws UsageError */
export function parseSlide(text: string | undefined): number {
  if (text === undefined) return 0;
  if (!/^[+-]?\d{1,6}$/.test(text.trim()))
    throw new UsageError(`--slide "${text}" is not a number of frames. Write it like 12, or like --slide=-12.`);
  return Number(text);
}

/** "x,y,width,height" in pixels. @throws UsageError */
export function parseBox(text: string): { x: number; y: number; width: number; height: number } {
  const [x, y, width, height] = text.split(',').map(Number);
  const right = /^\s*-?\d+(\.\d+)?(\s*,\s*-?\d+(\.\d+)?){3}\s*$/.test(text) && width > 0 && height > 0;
  if (!right) throw new UsageError(`--box "${text}" is not a box. Write it in pixels like 300,120,200,340.`);
  return { x, y, width, height };
}

/** A width in pixels, or nothing. @throws UsageError */
export function parsePixels(option: string, text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const value = /^\d{1,4}(\.\d+)?$/.test(text.trim()) ? Number(text) : NaN;
  if (!(value <= 1000)) throw new UsageError(`${option} "${text}" is not a width. Give pixels from 0 to 1000.`);
  return value;
}

/** How many are wanted, or nothing. @throws UsageError */
export function parseCount(option: string, text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  if (!/^[1-9]\d?$/.test(text.trim())) throw new UsageError(`${option} "${text}" is not a number from 1 to 99.`);
  return Number(text);
}

/** The ratio of a wide picture, its width over its height; 2.39 where nothing is said. @throws UsageError */
export function parseRatio(text: string | undefined): number {
  if (text === undefined) return 2.39;
  const parts = /^(\d+(?:\.\d+)?)(?::(\d+(?:\.\d+)?))?$/.exec(text.trim());
  const ratio = Number(parts?.[1]) / Number(parts?.[2] ?? 1);
  if (!(ratio >= 1 && ratio <= 10))
    throw new UsageError(`--ratio "${text}" is not a picture's ratio. Write it like 2.39, or like 12:5.`);
  return ratio;
}

/** A share of real speed, or nothing. @throws UsageError */
export function parsePercent(option: string, text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const value = /^\d{1,4}(\.\d+)?$/.test(text.trim()) ? Number(text) : NaN;
  if (!(value >= 1 && value <= 5000))
    throw new UsageError(`${option} "${text}" is not a speed. Give per cent, like 150.`);
  return value;
}

/** "x,y" in pixels, or nothing. @throws UsageError */
export function parsePoint(option: string, text: string | undefined): { x: number; y: number } | undefined {
  if (text === undefined) return undefined;
  const m = /^\s*(\d+(?:\.\d+)?)\s*,\s*(\d+(?:\.\d+)?)\s*$/.exec(text);
  if (!m) throw new UsageError(`${option} "${text}" is not a place. Write it in pixels like 640,360.`);
  return { x: Number(m[1]), y: Number(m[2]) };
}

/** "x,y@frame", or nothing. @throws UsageError */
export function parseLook(text: string | undefined): { x: number; y: number; frame: number } | undefined {
  if (text === undefined) return undefined;
  const m = /^([^@]+)@(\d{1,8})$/.exec(text.trim());
  if (!m) throw new UsageError(`--look "${text}" is not a place in a frame. Write it like 640,360@52.`);
  return { ...parsePoint('--look', m[1])!, frame: Number(m[2]) };
}
