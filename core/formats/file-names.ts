/** Names that some file systems keep for themselves, whatever follows the dot. */
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)$/;
/** Long enough to tell, short enough for every file system, also inside folders. */
const LONGEST = 60;

/**
 * A name that every file system takes: small letters, digits and single hyphens, 1 to 60 of them. What has none of these
 * becomes "unnamed".
 */
export function fileName(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/ß/g, 'ss')
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, LONGEST)
    .replace(/^-+|-+$/g, '');
  if (!plain) return 'unnamed';
  return RESERVED.test(plain) ? `${plain}-x` : plain;
}

/** Gives names that were not given before: "take", "take-2", "take-3". */
export class FreshNames {
  private readonly given = new Set<string>();

  /** @param end what follows the name, such as ".png" */
  of(text: string, end = ''): string {
    const base = fileName(text);
    for (let n = 1; ; n++) {
      const name = `${base}${n === 1 ? '' : `-${n}`}${end}`;
      if (this.given.has(name)) continue;
      this.given.add(name);
      return name;
    }
  }
}
