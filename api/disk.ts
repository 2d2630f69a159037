/** What room on the disk is taken by. */
export interface DiskRow {
  /** Recordings of takes; what measuring keeps of them; packs; uploads that are not taken in; recordings without a take. */
  what: 'recordings' | 'measured' | 'packs' | 'uploads' | 'waste';
  bytes: number;
  count: number;
}

export interface DiskUse {
  /** Bytes that may still be used. */
  free: number;
  rows: DiskRow[];
}
