import type { Root } from 'joi';

/** What is drawn on a picture, as a wish: its corners, or null. @param what how it is called in a sentence: "A zone" */
export const cornersWish = (joi: Root, what: string) =>
  joi
    .array()
    .min(3)
    .max(200)
    .items(joi.array().length(2).items(joi.number().min(0).max(1)))
    .allow(null)
    .default(null)
    .messages({ '*': `${what} has 3 to 200 corners, each two shares of the picture between 0 and 1.` });
