/** What an outside program may use up before it is ended. */
export interface ProcessLimits {
  /** Address space in bytes. */
  memoryBytes: number;
  /** Seconds of wall clock; 0 for none. */
  seconds: number;
  /** Seconds without any output after which it counts as hung. */
  silentSeconds: number;
}

export const PROBE_LIMITS: ProcessLimits = { memoryBytes: 4 * 1024 ** 3, seconds: 120, silentSeconds: 60 };
export const DECODE_LIMITS: ProcessLimits = { memoryBytes: 4 * 1024 ** 3, seconds: 3600, silentSeconds: 60 };
