import { Router } from 'express';
import type { DiskUse } from '../../api/disk';
import type { House } from '../platform/house';
import { answer } from '../platform/http';
import { diskUse, emptyWaste } from './usage';

/** Room on the disk: what takes it, and what may go. */
export function diskRoutes(house: House): Router {
  const router = Router();

  router.get(
    '/disk',
    answer((): Promise<DiskUse> => diskUse(house)),
  );

  router.delete(
    '/disk/waste',
    answer(async (): Promise<DiskUse> => {
      await emptyWaste(house);
      return diskUse(house);
    }),
  );

  return router;
}
