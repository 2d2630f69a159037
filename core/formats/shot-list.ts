import type { CameraNotes } from '../plan/types';
import type { Trick, TrickWishes } from '../tricks/types';
import { canonical } from '../base/numeric/canonical';

/** One part of a setup on a shot list. */
export interface ShotPart {
  name: string;
  what: string;
  seconds: number;
  optional: boolean;
  tricks: string[];
}

/** A trick on a shot list: its whole definition, so that one composed by hand travels too. */
export interface ShotTrick {
  name: string;
  definition: Trick;
  wishes: TrickWishes;
  parts: Record<string, string>;
  /** Set when the list only names it: it is put on the setup if it is not there, and changes nothing if it is. */
  namedOnly?: true;
}

export interface ShotSetup {
  number: number;
  name: string;
  place: string;
  notes: string;
  camera: CameraNotes;
  parts: ShotPart[];
  tricks: ShotTrick[];
}

/** A shoot's plan as it is handed out and taken in. `parts` of a trick name the setup's parts. */
export interface ShotList {
  format: 'umbrastat-shot-list';
  version: 1;
  shoot: { name: string; place: string; delivery_width: number; delivery_height: number; delivery_fps: number };
  setups: ShotSetup[];
}

/** One difference between a shot list and the plan as it stands. Taking a list in never removes anything. */
export type ImportChange =
  | { kind: 'add-setup'; setup: number; text: string; name: string }
  | {
      kind: 'change-setup';
      setup: number;
      text: string;
      field: 'name' | 'place' | 'notes' | keyof CameraNotes;
      to: string | number | null;
    }
  | { kind: 'add-part'; setup: number; text: string; part: ShotPart }
  | {
      kind: 'change-part';
      setup: number;
      text: string;
      part: string;
      field: 'what' | 'seconds' | 'optional';
      to: string | number | boolean;
    }
  | { kind: 'add-trick'; setup: number; text: string; trick: ShotTrick }
  | { kind: 'change-trick'; setup: number; text: string; trick: ShotTrick };

export const CAMERA_FIELDS = [
  'camera',
  'lens',
  'focal_mm',
  'width',
  'height',
  'fps',
  'shutter_s',
  'iso',
  'white_k',
  'focus_m',
  'height_m',
  'tilt_deg',
] as const satisfies readonly (keyof CameraNotes)[];

const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();
const shown = (v: string | number | boolean | null) => (v === null || v === '' ? 'nothing' : String(v));

/** What taking `incoming` in would change in `current`; setups are matched by number, parts and tricks by name. */
export function planImport(current: readonly ShotSetup[], incoming: readonly ShotSetup[]): ImportChange[] {
  const out: ImportChange[] = [];
  for (const setup of incoming) {
    const { number } = setup;
    const own = current.find((s) => s.number === number);
    if (!own)
      out.push({ kind: 'add-setup', setup: number, name: setup.name, text: `new setup ${number}: ${setup.name}` });
    const base = own ?? { name: setup.name, place: '', notes: '', camera: emptyCamera(), parts: [], tricks: [] };
    for (const field of ['name', 'place', 'notes'] as const) {
      if (base[field] !== setup[field])
        out.push({
          kind: 'change-setup',
          setup: number,
          field,
          to: setup[field],
          text: `setup ${number}, ${field}: ${shown(base[field])} becomes ${shown(setup[field])}`,
        });
    }
    for (const field of CAMERA_FIELDS) {
      const [from, to] = [base.camera[field], setup.camera[field]];
      if (from !== to)
        out.push({
          kind: 'change-setup',
          setup: number,
          field,
          to,
          text: `setup ${number}, ${field}: ${shown(from)} becomes ${shown(to)}`,
        });
    }
    for (const part of setup.parts) {
      const present = base.parts.find((p) => same(p.name, part.name));
      if (!present) {
        out.push({ kind: 'add-part', setup: number, part, text: `setup ${number}: new part ${part.name}` });
        continue;
      }
      for (const field of ['what', 'seconds', 'optional'] as const) {
        if (present[field] !== part[field])
          out.push({
            kind: 'change-part',
            setup: number,
            part: present.name,
            field,
            to: part[field],
            text: `setup ${number}, ${part.name}, ${field}: ${shown(present[field])} becomes ${shown(part[field])}`,
          });
      }
    }
    for (const trick of setup.tricks) {
      const present = base.tricks.find((t) => same(t.name, trick.name));
      if (!present)
        out.push({ kind: 'add-trick', setup: number, trick, text: `setup ${number}: new trick ${trick.name}` });
      else if (!trick.namedOnly && content(present) !== content(trick))
        out.push({ kind: 'change-trick', setup: number, trick, text: `setup ${number}: ${trick.name} is changed` });
    }
  }
  return out;
}

function emptyCamera(): CameraNotes {
  return {
    camera: '',
    lens: '',
    focal_mm: null,
    width: null,
    height: null,
    fps: null,
    shutter_s: null,
    iso: null,
    white_k: null,
    focus_m: null,
    height_m: null,
    tilt_deg: null,
  };
}

const content = ({ definition, wishes }: ShotTrick): string => canonical({ definition, wishes });
