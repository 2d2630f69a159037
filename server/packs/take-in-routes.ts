import { Router } from 'express';
import type { TakenInPack } from '../../api/packs';
import { takenInAsked } from '../../api/shoot-file-schemas';
import type { House } from '../platform/house';
import { answer, checked, Refusal } from '../platform/http';
import { Once } from '../platform/once';
import { dropUpload, uploadState } from '../takes/uploads';
import { openPack } from './pack-file';
import { takePackIn } from './take-in';

/** Packs of this machine or of another, uploaded to be looked into and taken in. */
export function takeInRoutes(house: House): Router {
  const { storage } = house;
  const router = Router();
  const taking = new Once<TakenInPack>();

  router.post(
    '/packs/taken-in',
    answer(async (req) => {
      const { upload_id: id, apply, differing } = checked(takenInAsked, req.body);
      const upload = await uploadState(storage, id);
      if (!upload) throw new Refusal(404, 'The upload is not known. Choose the file again.', 'missing');
      if (upload.arrived < upload.size)
        throw new Refusal(
          409,
          'The file has not arrived whole. Choose it again; it goes on where it stopped.',
          'not-whole',
        );
      // Whoever asks twice while it is taken in gets one answer.
      const { result } = await taking.run(`${id} ${apply} ${differing}`, async () => {
        const pack = await openPack(upload.path);
        try {
          return await takePackIn(house, pack, { apply, differing });
        } finally {
          pack.close();
        }
      });
      if (result.applied) await dropUpload(storage, id);
      return result;
    }),
  );

  return router;
}
