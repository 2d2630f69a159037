import { randomBytes } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import type { RequestHandler, Request } from 'express';
import type { Pool } from 'pg';
import type { Device } from '../../api/door';
import { Refusal } from '../platform/http';
import type { Storage } from '../platform/storage';
import { hashCode, isCode, makeCode } from './code';
import { isAtMachine } from './own-pages';

export const COOKIE = 'umbrastat_device';
/** How long it is taken for granted that a device was not sent away. */
const KNOWN_MS = 3000;

/** Who may work here: everybody at this machine, and devices that joined with the pass code. */
export class Door {
  private readonly known = new Map<string, { device: Device; until: number }>();

  private constructor(
    private readonly pool: Pool,
    /** What cookies are signed with. */
    readonly secret: string,
    /** Whether this machine itself must join too. */
    private readonly always: boolean,
  ) {}

  static async open(pool: Pool, storage: Storage, always = false): Promise<Door> {
    await writeFile(storage.secret, randomBytes(32).toString('hex'), { mode: 0o600, flag: 'wx' }).catch(
      (error: NodeJS.ErrnoException) => {
        if (error.code !== 'EEXIST') throw error;
      },
    );
    return new Door(pool, await readFile(storage.secret, 'utf8'), always);
  }

  /** Makes the pass code where there is none, or a new one is wished for, and gives it; null where there is one. */
  async makeCode(anew: boolean): Promise<string | null> {
    const { rowCount } = await this.pool.query('SELECT 1 FROM door');
    if (rowCount && !anew) return null;
    const code = makeCode();
    const salt = randomBytes(16).toString('hex');
    await this.pool.query(
      `INSERT INTO door (salt, code_hash) VALUES ($1, $2)
       ON CONFLICT (one) DO UPDATE SET salt = excluded.salt, code_hash = excluded.code_hash, made_at = now()`,
      [salt, await hashCode(code, salt)],
    );
    return code;
  }

  /** Takes a device in. @throws Refusal 403 when the code is wrong */
  async join(code: string, name: string): Promise<Device> {
    const { rows } = await this.pool.query<{ salt: string; code_hash: string }>('SELECT salt, code_hash FROM door');
    if (!rows[0] || !(await isCode(code, rows[0].salt, rows[0].code_hash)))
      throw new Refusal(403, 'That is not the pass code. It stands where Umbrastat was started.', 'code');
    const made = await this.pool.query<Device>('INSERT INTO devices (name) VALUES ($1) RETURNING *', [name]);
    return made.rows[0];
  }

  async devices(): Promise<Device[]> {
    return (await this.pool.query<Device>('SELECT * FROM devices ORDER BY joined_at')).rows;
  }

  /** Sends a device away at once; false when it is not here. */
  async sendAway(id: string): Promise<boolean> {
    const { rowCount } = await this.pool.query('DELETE FROM devices WHERE id = $1', [id]);
    // Only now: a request of the device that came meanwhile may have made it known again.
    this.known.delete(id);
    return rowCount === 1;
  }

  /** Whether whoever sends a request must have joined. */
  isClosedTo(req: Request): boolean {
    return this.always || !isAtMachine(req);
  }

  /** The device that sends a request; null when it has not joined, or was sent away. */
  async deviceOf(req: Request): Promise<Device | null> {
    const id = (req.signedCookies as Record<string, string | false | undefined>)[COOKIE];
    if (!id) return null;
    const before = this.known.get(id);
    if (before && before.until > Date.now()) return before.device;
    const { rows } = await this.pool.query<Device>('UPDATE devices SET seen_at = now() WHERE id = $1 RETURNING *', [
      id,
    ]);
    if (rows[0]) this.known.set(id, { device: rows[0], until: Date.now() + KNOWN_MS });
    else this.known.delete(id);
    return rows[0] ?? null;
  }

  /** Lets nobody on who must have joined and has not. */
  guard(): RequestHandler {
    return async (req, _res, next) => {
      if (this.isClosedTo(req) && !(await this.deviceOf(req)))
        throw new Refusal(401, 'This device has not joined yet, or was sent away. Enter the pass code.', 'door');
      next();
    };
  }
}
