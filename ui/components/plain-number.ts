/** Digits that fit the size of a number: enough to tell it from its limit, no more. */
export function plain(value: number): string {
  const size = Math.abs(value);
  if (size >= 100) return value.toFixed(0);
  return size >= 10 ? value.toFixed(1) : value.toFixed(2);
}
