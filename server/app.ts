import cookieParser from 'cookie-parser';
import express, { type Express, type Request } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { diskRoutes } from './disk/disk-routes';
import { deviceRoutes, doorRoutes } from './door/door-routes';
import type { Door } from './door/door';
import { onlyOwnPages } from './door/own-pages';
import { exchangeRoutes } from './plan/exchange-routes';
import { planRoutes } from './plan/plan-routes';
import { shootRoutes } from './plan/shoot-routes';
import type { House } from './platform/house';
import { Refusal, sayWhatWentWrong } from './platform/http';
import { packRoutes } from './packs/pack-routes';
import { takeInRoutes } from './packs/take-in-routes';
import { passRoutes } from './passes/pass-routes';
import { plateRoutes } from './plates/plate-routes';
import { rollRoutes } from './rolls/roll-routes';
import { markRoutes } from './takes/mark-routes';
import { stillRoutes } from './takes/still-routes';
import { takeRoutes } from './takes/take-routes';
import { uploadRoutes } from './takes/uploads';
import { wipeRoutes } from './wipes/wipe-routes';
import { measureRoutes } from './work/measure-routes';

/** Whether a request may have a body before its sender is known. */
const isJoining = (req: Request) => req.originalUrl === '/api/door/join' && req.is('json') === 'json';

export interface Front {
  door: Door;
  /** Names under which the server may be asked. */
  names: ReadonlySet<string>;
  /** The folder of the built app, or null. */
  web: string | null;
}

/** Puts the request handlers together. */
export function makeApp(house: House, { door, names, web }: Front): Express {
  const app = express();
  app.disable('x-powered-by');
  // Whoever passes requests on from this machine says for whom.
  app.set('trust proxy', 'loopback');
  app.use(onlyOwnPages(names));
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          // Compiled loops of the measures may run in pages, too.
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          fontSrc: ["'self'", 'data:'],
          connectSrc: ["'self'"],
          workerSrc: ["'self'", 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(
    '/api',
    rateLimit({
      windowMs: 10_000,
      limit: 30_000,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      message: { error: 'Too many requests at once. Wait a few seconds.', code: 'busy' },
    }),
  );
  app.get('/api/health', async (_req, res) => {
    await house.pool.query('SELECT 1');
    res.json({ ok: true });
  });
  app.use('/api', cookieParser(door.secret));
  app.use('/api', express.json({ limit: '16kb', type: (req) => isJoining(req as Request) }), doorRoutes(door));
  app.use('/api', door.guard());
  app.use('/api', uploadRoutes(house.storage));
  app.use(express.json({ limit: '3mb' }));
  // Whoever changes something reads what they changed, whatever was worked out before.
  app.use('/api', (req, res, next) => {
    if (req.method !== 'GET') {
      const json = res.json.bind(res);
      res.json = (body: unknown) => {
        house.answers.changed();
        return json(body);
      };
    }
    next();
  });
  app.use('/api', deviceRoutes(door));
  for (const routes of [
    shootRoutes,
    planRoutes,
    exchangeRoutes,
    takeRoutes,
    markRoutes,
    stillRoutes,
    measureRoutes,
    plateRoutes,
    passRoutes,
    wipeRoutes,
    rollRoutes,
    packRoutes,
    takeInRoutes,
    diskRoutes,
  ])
    app.use('/api', routes(house));
  app.use('/api', () => {
    throw new Refusal(404, 'There is nothing at this address.', 'missing');
  });
  if (web) {
    app.use(
      express.static(web, {
        index: false,
        maxAge: '1h',
        setHeaders: (res, path) => {
          if (path.endsWith('offline.js')) res.set('Cache-Control', 'no-cache');
          else if (path.includes('_expo')) res.set('Cache-Control', 'public, max-age=31536000, immutable');
        },
      }),
    );
    app.get('/{*path}', (_req, res) => {
      res.set('Cache-Control', 'no-cache').sendFile('index.html', { root: web });
    });
  }
  app.use(sayWhatWentWrong(house.log));
  return app;
}
