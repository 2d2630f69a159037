import { Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import type { DeviceInList, DoorState } from '../../api/door';
import { idParams, joining } from '../../api/schemas';
import { answer, checked, Refusal } from '../platform/http';
import { COOKIE, type Door } from './door';

const TRIES_MS = 600_000;
/** Wrong codes in that time: from one address, and from all together. */
const MOST_TRIES = 10;
const MOST_TRIES_OF_ALL = 100;
const YEAR_MS = 365 * 24 * 3600 * 1000;

const tries = (limit: number, ofAll: boolean) =>
  rateLimit({
    windowMs: TRIES_MS,
    limit,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    ...(ofAll ? { keyGenerator: () => 'all' } : {}),
    message: {
      error: 'Too many wrong codes. Wait ten minutes, then look again where Umbrastat was started.',
      code: 'busy',
    },
  });

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
    tries(MOST_TRIES, false),
    tries(MOST_TRIES_OF_ALL, true),
    answer(async (req, res): Promise<DoorState> => {
      const { code, name } = checked(joining, req.body);
      const device = await door.join(code, name);
      res.cookie(COOKIE, device.id, { signed: true, httpOnly: true, sameSite: 'strict', maxAge: YEAR_MS, path: '/' });
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
