import type { VerdictWord } from '../report/types';

/** What the gate knows of one take. */
export interface GateTake {
  id: string;
  number: number;
  circled: boolean;
  state: 'waiting' | 'measuring' | 'measured' | 'failed';
  /** Verdict on the camera's lock with its first sentence and what to do; null until measured. */
  lock: { verdict: VerdictWord; text: string; fix: string | null } | null;
}

export interface GatePart {
  id: string;
  name: string;
  optional: boolean;
  takes: GateTake[];
}

export interface GateRow {
  partId: string;
  name: string;
  verdict: VerdictWord;
  text: string;
  /** The take the verdict rests on. */
  takeId: string | null;
  takeNumber: number | null;
}

export interface Gate {
  verdict: VerdictWord;
  /** Whether the setup may be struck. */
  mayStrike: boolean;
  /** One sentence: can we move the camera, and if not, what is to be done. */
  headline: string;
  detail: string;
  rows: GateRow[];
  /** The part to roll next; null when nothing is left to roll. */
  rollNext: { partId: string; name: string; again: boolean } | null;
}

const ORDER: VerdictWord[] = ['reshoot', 'unjudged', 'workable', 'holds'];

/** The take a part stands on: the circled one, else the best verdict, the later of equals. */
export function standingTake(takes: readonly GateTake[]): GateTake | null {
  const circled = takes.find((t) => t.circled);
  if (circled) return circled;
  const rank = (t: GateTake) => (t.lock ? ORDER.indexOf(t.lock.verdict) : t.state === 'failed' ? -2 : -1);
  return takes.reduce<GateTake | null>((best, t) => {
    if (!best) return t;
    return rank(t) > rank(best) || (rank(t) === rank(best) && t.number > best.number) ? t : best;
  }, null);
}

/** May the setup be struck? Every part that must be recorded needs a take whose camera held or can be made still. */
export function judgeGate(parts: readonly GatePart[]): Gate {
  const rows = parts.map((part): GateRow & { optional: boolean; waiting: boolean } => {
    const take = standingTake(part.takes);
    const base = { partId: part.id, name: part.name, optional: part.optional, takeId: take?.id ?? null, takeNumber: take?.number ?? null };
    if (!take) {
      return { ...base, verdict: 'unjudged', waiting: false, text: part.optional ? 'not rolled; may be left out' : 'not rolled yet' };
    }
    if (take.lock) {
      const state = take.circled ? `take ${take.number} circled` : `take ${take.number}`;
      return { ...base, verdict: take.lock.verdict, waiting: false, text: `${state} · ${take.lock.text}` };
    }
    const failed = take.state === 'failed';
    return { ...base, verdict: 'unjudged', waiting: !failed, text: failed ? `take ${take.number} could not be measured` : `take ${take.number} is being measured` };
  });
  const needed = rows.filter((r) => !r.optional || r.takeId);
  const bad = needed.filter((r) => r.verdict === 'reshoot');
  const unrolled = needed.filter((r) => !r.takeId);
  const waiting = needed.filter((r) => r.waiting);
  const unsure = needed.filter((r) => r.verdict === 'unjudged' && r.takeId && !r.waiting);
  const workable = needed.filter((r) => r.verdict === 'workable');
  const plain = rows.map(({ partId, name, verdict, text, takeId, takeNumber }) => ({ partId, name, verdict, text, takeId, takeNumber }));
  const gate = (verdict: VerdictWord, mayStrike: boolean, headline: string, detail: string, next: GateRow | undefined, again: boolean): Gate =>
    ({ verdict, mayStrike, headline, detail, rows: plain, rollNext: next ? { partId: next.partId, name: next.name, again } : null });
  const fixOf = (row: GateRow) => {
    const take = parts.find((p) => p.id === row.partId)?.takes.find((t) => t.id === row.takeId);
    return [take?.lock?.text, take?.lock?.fix].filter(Boolean).join(' ');
  };

  if (parts.length === 0) return gate('unjudged', false, 'Nothing is planned here yet.', 'Add the parts this setup must record.', undefined, false);
  if (bad.length) {
    const more = bad.length > 1 ? ` ${listNames(bad.slice(1))} too.` : '';
    return gate('reshoot', false, `Not yet. Roll ${lower(bad[0].name)} again.${more}`, fixOf(bad[0]), bad[0], true);
  }
  if (unrolled.length) {
    return gate('unjudged', false, `Not yet. Roll ${lower(unrolled[0].name)}.`,
      unrolled.length > 1 ? `Still to roll: ${listNames(unrolled)}.` : 'It is the last part missing here.', unrolled[0], false);
  }
  if (waiting.length) return gate('unjudged', false, 'Wait: a take is being measured.', `Measuring ${listNames(waiting)}.`, undefined, false);
  if (unsure.length) {
    return gate('unjudged', false, `Look at ${lower(unsure[0].name)} by eye before you strike.`, fixOf(unsure[0]) || unsure[0].text, unsure[0], true);
  }
  if (workable.length) {
    return gate('workable', true, 'You may strike. Some takes need a fix in the edit.', fixOf(workable[0]), undefined, false);
  }
  return gate('holds', true, 'You may strike: every part holds.', 'The camera stayed put in every part.', undefined, false);
}

function listNames(rows: readonly GateRow[]): string {
  return rows.map((r) => lower(r.name)).join(', ');
}

/** A part's name inside a sentence: "Plate" becomes "the plate", "Pass A" becomes "pass A", own names stay. */
function lower(name: string): string {
  if (/^[A-Z][a-z]+$/.test(name)) return `the ${name.toLowerCase()}`;
  return /^[A-Z][a-z]+\b/.test(name) ? name.charAt(0).toLowerCase() + name.slice(1) : name;
}
