import type { VerdictWord } from '../report/types';
import type { JudgedRequirement } from './requirements';
import { standingTake, type RolledTake } from './standing';

/** What the gate knows of one take: its verdict for what it is for, why, and what to do. */
export interface GateTake extends RolledTake {
  id: string;
  judged: {
    verdict: VerdictWord;
    text: string;
    fix: string | null;
    /** Something it is judged by is still being measured. */
    pending: boolean;
    /** Its file breaks off. */
    broken: boolean;
  } | null;
}

export interface GatePart {
  id: string;
  name: string;
  optional: boolean;
  takes: GateTake[];
  /** Recorded in another place: nothing waits here for it. */
  elsewhere: boolean;
}

/** A planned trick with its requirements decided. */
export interface GateTrick {
  id: string;
  name: string;
  requirements: (JudgedRequirement & { partIds: string[] })[];
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
  tricks: GateTrick[];
  /** Statements that wait for somebody's eye. */
  toLookAt: number;
  /** The part to roll next; null when nothing is left to roll. */
  rollNext: { partId: string; name: string; again: boolean } | null;
}

interface Row extends GateRow {
  optional: boolean;
  waiting: boolean;
  pending: boolean;
  failed: boolean;
  broken: boolean;
  fix: string | null;
}

/** May the setup be struck? Every part that must be recorded needs a take, and every requirement of every trick must be met. */
export function judgeGate(parts: readonly GatePart[], tricks: readonly GateTrick[]): Gate {
  const rows = parts.map(partRow);
  const needed = rows.filter((r) => !r.optional || r.takeId);
  const open = tricks.flatMap((t) => t.requirements.filter((r) => r.applies));
  const toLookAt = open.filter((r) => r.ready && r.byEye && !r.eye);
  const shown = rows.map(({ partId, name, verdict, text, takeId, takeNumber }) => ({
    partId,
    name,
    verdict,
    text,
    takeId,
    takeNumber,
  }));
  const gate = (
    verdict: VerdictWord,
    mayStrike: boolean,
    headline: string,
    detail: string,
    next: { partId: string; name: string } | undefined,
    again: boolean,
  ): Gate => ({
    verdict,
    mayStrike,
    headline,
    detail,
    rows: shown,
    tricks: [...tricks],
    toLookAt: toLookAt.length,
    rollNext: next ? { partId: next.partId, name: next.name, again } : null,
  });

  if (parts.length === 0)
    return gate(
      'unjudged',
      false,
      'Nothing is planned here yet.',
      'Put a trick on this setup, or add the parts it must record.',
      undefined,
      false,
    );
  if (needed.length === 0)
    return gate(
      'unjudged',
      false,
      'Nothing is rolled here yet.',
      'Every part may be left out or belongs to another place; roll what you need.',
      rows[0],
      false,
    );
  const bad = needed.filter((r) => r.verdict === 'reshoot');
  if (bad.length) {
    const all =
      bad.length > 1 ? `${listNames(bad.slice(0, -1))} and ${lower(bad[bad.length - 1].name)}` : lower(bad[0].name);
    return gate('reshoot', false, `Not yet. Roll ${all} again.`, sentence(bad[0]), bad[0], true);
  }
  const apart = open.find((r) => r.verdict === 'reshoot');
  if (apart) {
    const again = rows.find((row) => row.partId === apart.partIds[apart.partIds.length - 1]);
    return gate(
      'reshoot',
      false,
      again ? `Not yet. Roll ${lower(again.name)} again.` : 'Not yet.',
      [`${apart.text}.`, apart.fix].filter(Boolean).join(' '),
      again,
      true,
    );
  }
  const unrolled = needed.filter((r) => !r.takeId);
  if (unrolled.length) {
    return gate(
      'unjudged',
      false,
      `Not yet. Roll ${lower(unrolled[0].name)}.`,
      unrolled.length > 1 ? `Still to roll: ${listNames(unrolled)}.` : 'It is the last part missing here.',
      unrolled[0],
      false,
    );
  }
  const waiting = needed.filter((r) => r.waiting);
  if (waiting.length)
    return gate(
      'unjudged',
      false,
      'Wait: a take is being measured.',
      `Measuring ${listNames(waiting)}.`,
      undefined,
      false,
    );
  const pending = open.filter((r) => r.pending),
    lookedAt = needed.filter((r) => r.pending);
  if (pending.length === 0 && lookedAt.length)
    return gate('unjudged', false, 'Wait: a take is being looked at.', sentence(lookedAt[0]), undefined, false);
  if (pending.length)
    return gate(
      'unjudged',
      false,
      'Wait: takes are being held against each other.',
      `First: ${pending[0].name.toLowerCase()} of ${pending[0].partNames.join(', ')}.`,
      undefined,
      false,
    );
  const broken = needed.find((r) => r.broken);
  if (broken)
    return gate(
      'unjudged',
      false,
      `Not yet. Copy ${lower(broken.name)} from the card again.`,
      sentence({ ...broken, fix: 'If it breaks off there too, roll it again.' }),
      broken,
      true,
    );
  // What a trick has somebody look at is ticked there.
  const unsure = needed.find(
    (r) => r.verdict === 'unjudged' && (r.failed || !toLookAt.some((q) => q.partIds.includes(r.partId))),
  );
  if (unsure)
    return gate(
      'unjudged',
      false,
      `Look at ${lower(unsure.name)} by eye before you strike.`,
      sentence(unsure),
      unsure,
      true,
    );
  if (toLookAt.length) {
    const many = toLookAt.length === 1 ? 'one thing' : `${toLookAt.length} things`;
    return gate(
      'unjudged',
      false,
      `Look at ${many} by eye before you strike.`,
      `First: ${toLookAt[0].name.toLowerCase()}. Tick what you have seen to hold.`,
      undefined,
      false,
    );
  }
  const workable = needed.find((r) => r.verdict === 'workable') ?? open.find((r) => r.verdict === 'workable');
  if (workable)
    return gate(
      'workable',
      true,
      'You may strike. Some takes need a fix in the edit.',
      sentence(workable),
      undefined,
      false,
    );
  return gate(
    'holds',
    true,
    'You may strike: every part holds.',
    tricks.length ? 'Every requirement of every trick is met.' : 'Every part is what it is meant to be.',
    undefined,
    false,
  );
}

/** A part's state: that of the take it stands on. */
function partRow(part: GatePart): Row {
  const take = standingTake(part.takes);
  const base = {
    partId: part.id,
    name: part.name,
    optional: part.optional || part.elsewhere,
    takeId: take?.id ?? null,
    takeNumber: take?.number ?? null,
    waiting: false,
    pending: false,
    failed: false,
    broken: false,
    fix: null,
  };
  if (!take)
    return {
      ...base,
      verdict: 'unjudged',
      text: part.elsewhere
        ? 'belongs to the other place'
        : part.optional
          ? 'not rolled; may be left out'
          : 'not rolled yet',
    };
  if (!take.judged) {
    const failed = take.state === 'failed';
    return {
      ...base,
      verdict: 'unjudged',
      waiting: !failed,
      failed,
      text: failed ? `take ${take.number} could not be measured` : `take ${take.number} is being measured`,
    };
  }
  const state = take.circled ? `take ${take.number} circled` : `take ${take.number}`;
  const { text, ...judged } = take.judged;
  return { ...base, ...judged, text: `${state} · ${text}` };
}

/** A row's text as a sentence, with what to do. */
function sentence(row: { text: string; fix: string | null }): string {
  const text = row.text.split(' · ').pop() ?? row.text;
  return [/[.!?]$/.test(text) ? text : `${text}.`, row.fix].filter(Boolean).join(' ');
}

function listNames(rows: readonly { name: string }[]): string {
  return rows.map((r) => lower(r.name)).join(', ');
}

/** Things that a part's name may call it, so that it reads as a word of the sentence. */
const THINGS = /^([A-Z][a-z-]+ )?(plate|pass|side|frame|still|round|take|photograph)$/i;

/** A part's name inside a sentence: "Plate" becomes "the plate", "Pass A" becomes "pass A", other names are quoted. */
function lower(name: string): string {
  if (THINGS.test(name)) return `the ${name.toLowerCase()}`;
  if (/^[A-Z][a-z]+ ([A-Z]|\d+)$/.test(name)) return name.charAt(0).toLowerCase() + name.slice(1);
  return /^[A-Z][a-z]+$/.test(name) ? `the ${name.toLowerCase()}` : `“${name}”`;
}
