/** What an outside program may use up before it is ended. */
export interface ProcessLimits {
  /** Address space in bytes. */
  memoryBytes: number;
  /** Seconds of wall clock; 0 for none. */
  seconds: number;
  /** Seconds without any output after which it counts as hung, where that is listened to. */
  silentSeconds: number;
}

export const PROBE_LIMITS: ProcessLimits = { memoryBytes: 4 * 1024 ** 3, seconds: 120, silentSeconds: 60 };
/** However long a take is: what hangs is silent. */
export const DECODE_LIMITS: ProcessLimits = { memoryBytes: 4 * 1024 ** 3, seconds: 12 * 3600, silentSeconds: 60 };

/** Coding looks at some forty pictures at a time, of the largest size that is taken in. */
export const WRITE_LIMITS: ProcessLimits = { ...DECODE_LIMITS, memoryBytes: 8 * 1024 ** 3 };

/** Bytes a second that any disk reads. */
const SLOWEST_DISK = 10_000_000;

/** What may be used up to read all of a file of so many bytes without decoding. */
export function readingLimits(bytes: number): ProcessLimits {
  return { ...PROBE_LIMITS, seconds: PROBE_LIMITS.seconds + bytes / SLOWEST_DISK };
}
