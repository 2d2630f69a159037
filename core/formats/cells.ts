/** A cell that a spreadsheet would take for a formula is led by an apostrophe, which reading takes off again. */
export const guard = (text: string) => (/^[=+\-@'\t\r]/.test(text) ? `'${text}` : text);

/** The text of a cell that was led by one. */
export const unguard = (text: string) => (/^'[=+\-@'\t\r]/.test(text) ? text.slice(1) : text);
