/** A value as text, independent of the order its fields were written in. */
export function canonical(value: unknown): string {
  const sorted = (v: unknown): unknown => {
    if (Array.isArray(v)) return v.map(sorted);
    if (v && typeof v === 'object')
      return Object.fromEntries(
        Object.entries(v)
          .sort(([a], [b]) => (a < b ? -1 : 1))
          .map(([k, w]) => [k, sorted(w)]),
      );
    return v;
  };
  return JSON.stringify(sorted(value));
}
