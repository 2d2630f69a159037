/** One value of which two sides say something else. */
export interface Difference {
  /** Where it stands, as words: "requirements, same-place, tolerance". */
  where: string;
  /** What each side says, as words; "nothing" where it does not have it. */
  theirs: string;
  yours: string;
}

type Known = Record<string, unknown>;
const isObject = (value: unknown): value is Known =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
/** Lists whose items have keys are held against each other item by item. */
const isKeyed = (value: unknown): value is { key: string }[] =>
  Array.isArray(value) && value.length > 0 && value.every((v) => isObject(v) && typeof v.key === 'string');

/** A value as words: texts as they are, numbers, lists and tables shortened to how many they hold. */
function inWords(value: unknown): string {
  if (value === undefined || value === null || value === '') return 'nothing';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return String(Math.round(value * 1e4) / 1e4);
  if (typeof value === 'string') return value;
  if (Array.isArray(value)) {
    const plain = value.every((v) => typeof v === 'string' || typeof v === 'number');
    if (plain && value.length > 0 && value.length <= 4) return value.join(', ');
    return value.length === 0 ? 'nothing' : `${value.length} entries`;
  }
  const { name } = value as { name?: unknown };
  return typeof name === 'string' ? name : 'something';
}

/**
 * Where a change (`yours`) says something else than what stands now (`theirs`): only what the change names is looked at.
 * Both are plain data; unlike lists without keys count as one difference.
 */
export function differences(theirs: object, yours: object, path: readonly string[] = []): Difference[] {
  const byKey = (list: readonly { key: string }[]) => Object.fromEntries(list.map((item) => [item.key, item]));
  return Object.entries(yours).flatMap(([name, mine]): Difference[] => {
    const here = (theirs as Known)[name];
    const at = [...path, name.replaceAll(/[_-]/g, ' ')];
    if (JSON.stringify(here) === JSON.stringify(mine)) return [];
    if (isObject(here) && isObject(mine)) return differences(here, mine, at);
    if (isKeyed(mine) || isKeyed(here)) {
      const [a, b] = [here, mine].map((list) => (isKeyed(list) ? byKey(list) : {}));
      // What they have and the change does not would go with it.
      const gone = Object.fromEntries(Object.keys(a).flatMap((key) => (key in b ? [] : [[key, undefined]])));
      const found = differences(a, { ...b, ...gone }, at);
      if (found.length) return found;
      return [{ where: at.join(', '), theirs: 'another order', yours: 'this order' }];
    }
    return [{ where: at.join(', '), theirs: inWords(here), yours: inWords(mine) }];
  });
}
