import Joi from 'joi';
import type { NewPack } from './packs';
import { guid, rowId } from './schemas';

const flag = (usual: boolean) => Joi.boolean().default(usual).messages({ '*': 'Say yes or no to what goes along.' });
const which = guid.allow(null).default(null).messages({ '*': 'Choose a setup or a trick of the list.' });

/** What a pack is asked to be of, and what goes along. */
export const newPack = Joi.object<NewPack, true>({
  setup_id: which,
  planned_id: which,
  recordings: flag(false),
  mattes: flag(false),
  plates: flag(true),
  takes: Joi.string()
    .valid('circled', 'standing', 'all')
    .default('circled')
    .messages({ '*': 'Say which takes go along: circled ones only, the best of each part, or all.' }),
});

/** A file inside a pack. */
export const packFileParams = Joi.object<{ id: string; path: string }, true>({
  id: rowId,
  path: Joi.string()
    .max(300)
    .pattern(/^[A-Za-z0-9][A-Za-z0-9._-]*(\/[A-Za-z0-9][A-Za-z0-9._-]*)*$/)
    .required()
    .messages({ '*': 'The address names no file of a pack.' }),
});
