type Fields = Record<string, unknown>;

/**
 * Takes some fields of a result apart from the rest.
 * @param apart names of fields, "lock.path" for one inside another; those that are not there are passed over
 */
export function takeApart(result: object, apart: readonly string[]): { summary: object; detail: object } {
  const summary: Fields = { ...result };
  const detail: Fields = {};
  for (const name of apart) {
    const [outer, inner] = name.split('.');
    const held = summary[outer];
    if (held === undefined) continue;
    if (inner === undefined) {
      detail[outer] = held;
      delete summary[outer];
    } else if (typeof held === 'object' && held !== null && inner in held) {
      const { [inner]: taken, ...rest } = held as Fields;
      summary[outer] = rest;
      detail[outer] = { ...(detail[outer] as Fields | undefined), [inner]: taken };
    }
  }
  return { summary, detail };
}

/** Puts together what `takeApart` took apart. */
export function putTogether(summary: object, detail: object | null): object {
  const whole: Fields = { ...summary };
  for (const [name, held] of Object.entries(detail ?? {})) {
    const own = whole[name];
    const both = typeof own === 'object' && own !== null && !Array.isArray(own);
    whole[name] = both ? { ...own, ...(held as object) } : held;
  }
  return whole;
}
