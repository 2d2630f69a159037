/** A size as people say it: kilobytes, megabytes from a tenth on, gigabytes from one on. */
export function bytesInWords(bytes: number): string {
  if (bytes < 1e5) return `${(bytes / 1e3).toFixed(1)} kB`;
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(2)} GB`;
}
