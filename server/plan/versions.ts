import type { Request } from 'express';
import Joi from 'joi';
import type { PoolClient } from 'pg';
import { checked, Refusal } from '../platform/http';

const seen = Joi.object<{ seen: string | undefined }>({
  seen: Joi.string()
    .pattern(/^(W\/)?"\d{1,9}"$/)
    .messages({ '*': 'If-Match names the version that was seen, as "3".' }),
});

/** Which version of what it changes a request has seen (If-Match, RFC 9110); null where it does not say. */
export function versionSeen(req: Pick<Request, 'get'>): number | null {
  const said = checked(seen, { seen: req.get('If-Match') }).seen;
  return said === undefined ? null : Number(said.replace(/\D/g, ''));
}

/**
 * Refuses a change of what somebody else has changed since it was seen; both sides' values go along.
 * @param here as it stands, held by this transaction
 * @throws Refusal 409
 */
export function assureSeen(here: { version: number }, version: number | null, yours: object): void {
  if (version === null || version === here.version) return;
  throw new Refusal(
    409,
    'Somebody else has changed this since you opened it. Look at both, then keep theirs or save yours over it.',
    'changed',
    { here, yours },
  );
}

/** Holds a row until the transaction ends: whoever changes it too comes after. */
export async function holdRow(db: PoolClient, table: 'shoots' | 'setups' | 'parts', id: string): Promise<void> {
  await db.query(`SELECT 1 FROM ${table} WHERE id = $1 FOR UPDATE`, [id]);
}
