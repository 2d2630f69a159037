import { join } from 'node:path';
import express, { type Express } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import type { Pool } from 'pg';
import type PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { Refusal, sayWhatWentWrong } from './http';
import { exchangeRoutes } from './routes/exchange';
import { plateRoutes } from './routes/plates';
import { planRoutes } from './routes/plans';
import { rollRoutes } from './routes/rolls';
import { shootRoutes } from './routes/shoots';
import { takeRoutes } from './routes/takes';
import { uploadRoutes } from './routes/uploads';
import { wipeRoutes } from './routes/wipes';
import type { Storage } from './storage';

/** Puts the request handlers together. `web` is the folder of the built app, or null. */
export function makeApp(pool: Pool, storage: Storage, boss: PgBoss, log: Logger, web: string | null): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
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
      limit: 3000,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      message: { error: 'Too many requests at once. Wait a few seconds.', code: 'busy' },
    }),
  );
  app.use('/api', uploadRoutes(storage));
  app.use(express.json({ limit: '3mb' }));
  app.get('/api/health', async (_req, res) => {
    await pool.query('SELECT 1');
    res.json({ ok: true });
  });
  app.use('/api', shootRoutes(pool));
  app.use('/api', planRoutes(pool));
  app.use('/api', exchangeRoutes(pool));
  app.use('/api', takeRoutes(pool, storage, boss));
  app.use('/api', plateRoutes(pool, storage, boss));
  app.use('/api', wipeRoutes(pool, storage, boss));
  app.use('/api', rollRoutes(pool, storage, boss));
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
      res.set('Cache-Control', 'no-cache').sendFile(join(web, 'index.html'));
    });
  }
  app.use(sayWhatWentWrong(log));
  return app;
}
