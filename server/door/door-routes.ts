import { Router, type Request } from 'express';
import { rateLimit } from 'express-rate-limit';
import { slowDown } from 'express-slow-down';
import type { DeviceInList, DoorState } from '../../api/door';
import { idParams, joining } from '../../api/schemas';
import { answer, checked, Refusal } from '../platform/http';
import { COOKIE, type Door } from './door';
import { isAtMachine, isLoopback } from './own-pages';

const TRIES_MS = 600_000;
/** Wrong codes of one address in that time: so many are answered at once, and so many at all. */
const FREE_TRIES = 5;
const MOST_TRIES = 100;
/** How long the next one waits, milliseconds: twice as long each time, up to the longest. Tests do not wait that long. */
const FIRST_WAIT_MS = Number((process.env as Record<string, string | undefined>).UMBRASTAT_FIRST_WAIT_MS ?? 500);
const LONGEST_WAIT_MS = 16 * FIRST_WAIT_MS;
const YEAR_MS = 365 * 24 * 3600 * 1000;

/** Whether whoever tries cannot be told from others: then only the waits are theirs. */
const isNobody = (req: Request) => isLoopback(req.ip ?? '');

/**
 * Wrong codes are counted for each address, never for all together: each makes the next wait longer, and only who tries
 * on and on is refused. A right code always gets in, and nobody waits at the machine itself.
 */
const slower = () =>
  slowDown({
    windowMs: TRIES_MS,
    delayAfter: FREE_TRIES,
    delayMs: (used) => FIRST_WAIT_MS * 2 ** (used - FREE_TRIES - 1),
    maxDelayMs: LONGEST_WAIT_MS,
    skipSuccessfulRequests: true,
    skip: isAtMachine,
  });
const fewer = () =>
  rateLimit({
    windowMs: TRIES_MS,
    limit: MOST_TRIES,
    skipSuccessfulRequests: true,
    skip: isNobody,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    message: {
      error: 'Too many wrong codes from this device. Wait ten minutes, then look again where Umbrastat was started.',
      code: 'busy',
    },
  });

/** Whether the browser of whoever asks speaks https, with us or with whoever passes its requests on. */
const isEncrypted = (req: Request) => req.secure || /(^|[;,\s])proto="?https\b/i.test(req.get('forwarded') ?? '');

/** What may be asked before joining: whether one has, and to join. */
export function doorRoutes(door: Door): Router {
  const router = Router();

  router.get(
    '/door',
    answer(async (req): Promise<DoorState> => {
      const device = await door.deviceOf(req);
      const closed = door.isClosedTo(req);
      return { closed, joined: !closed || device !== null, name: device?.name ?? null };
    }),
  );

  router.post(
    '/door/join',
    fewer(),
    slower(),
    answer(async (req, res): Promise<DoorState> => {
      const { code, name } = checked(joining, req.body);
      const device = await door.join(code, name);
      const secure = isEncrypted(req);
      const kept = { signed: true, httpOnly: true, sameSite: 'strict', maxAge: YEAR_MS, path: '/', secure } as const;
      res.cookie(COOKIE, device.id, kept);
      res.status(201);
      return { closed: door.isClosedTo(req), joined: true, name: device.name };
    }),
  );

  return router;
}

/** Who has joined, for those who have. */
export function deviceRoutes(door: Door): Router {
  const router = Router();

  router.get(
    '/devices',
    answer(async (req): Promise<DeviceInList[]> => {
      const own = await door.deviceOf(req);
      return (await door.devices()).map((d) => ({ ...d, own: d.id === own?.id }));
    }),
  );

  router.delete(
    '/devices/:id',
    answer(async (req) => {
      if (!(await door.sendAway(checked(idParams, req.params).id)))
        throw new Refusal(404, 'This device is not here any more.', 'missing');
      return { ok: true };
    }),
  );

  return router;
}
