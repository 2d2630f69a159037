import { REQUIREMENT_KINDS } from '../tricks/requirement-kinds';
import type { Trick } from '../tricks/types';

/** What is wrong with a trick somebody composed or changed: one sentence each; empty when it can be used. */
export function checkTrick(trick: Trick): string[] {
  const wrong: string[] = [];
  if (!trick.name.trim()) wrong.push('The trick needs a name.');
  if (trick.parts.length === 0) wrong.push('A trick needs at least one part to record.');
  const keys = new Set<string>();
  for (const part of trick.parts) {
    if (!part.name.trim()) wrong.push('Every part needs a name.');
    if (keys.has(part.key)) wrong.push(`Two parts have the key "${part.key}".`);
    keys.add(part.key);
    if (!(part.seconds > 0 && part.seconds <= 3600))
      wrong.push(`${part.name}: a length of above 0 and up to 3600 s can be planned.`);
  }
  const requirements = new Set<string>();
  for (const r of trick.requirements) {
    const kind = REQUIREMENT_KINDS[r.kind];
    if (!kind) {
      wrong.push(`"${String(r.kind)}" is no kind of requirement.`);
      continue;
    }
    if (requirements.has(r.key)) wrong.push(`${kind.name}: the same requirement stands there twice.`);
    requirements.add(r.key);
    const missing = r.parts.find((p) => !keys.has(p));
    if (missing !== undefined) wrong.push(`${kind.name} speaks of a part "${missing}" that is not there.`);
    if (new Set(r.parts).size < kind.parts)
      wrong.push(`${kind.name} needs ${kind.parts === 1 ? 'a part' : `${kind.parts} different parts`}.`);
    if (kind.tolerance) {
      const { least, most, unit } = kind.tolerance;
      if (r.tolerance === null || !(r.tolerance >= least && r.tolerance <= most))
        wrong.push(`${kind.name}: ${least} to ${most} ${unit} can be asked for.`);
    }
  }
  for (const line of trick.script)
    if (line.part !== null && !keys.has(line.part))
      wrong.push(`A script line speaks of a part "${line.part}" that is not there.`);
  return [...new Set(wrong)];
}

/** A key for a new part that no other part has: "pass", "pass-2" … */
export function freshKey(name: string, taken: readonly string[]): string {
  const base =
    name
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 30) || 'part';
  let key = base;
  for (let n = 2; taken.includes(key); n++) key = `${base}-${n}`;
  return key;
}
