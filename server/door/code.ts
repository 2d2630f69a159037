import { randomInt, scryptSync, timingSafeEqual } from 'node:crypto';

/** Letters and digits that nobody takes for another. */
const LETTERS = 'ABCDEFGHJKMNPQRSTVWXYZ23456789';
const GROUPS = 2;
const IN_GROUP = 4;

/** A fresh pass code, such as K7MP-2QXD: 39 bits. */
export function makeCode(): string {
  const group = () => Array.from({ length: IN_GROUP }, () => LETTERS[randomInt(LETTERS.length)]).join('');
  return Array.from({ length: GROUPS }, group).join('-');
}

/** A code as it is hashed: however it was typed. */
const plain = (code: string) => code.toUpperCase().replace(/[^A-Z0-9]/g, '');

export function hashCode(code: string, salt: string): string {
  return scryptSync(plain(code), salt, 32).toString('hex');
}

/** Whether a typed code is the one that was hashed. */
export function isCode(typed: string, salt: string, hash: string): boolean {
  return timingSafeEqual(Buffer.from(hashCode(typed, salt), 'hex'), Buffer.from(hash, 'hex'));
}
