import { randomInt, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';

const derive = promisify<string, string, number, Buffer>(scrypt);

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

/** The hash of a code as hexadecimal digits (scrypt, RFC 7914): 32 bytes. */
export async function hashCode(code: string, salt: string): Promise<string> {
  return (await derive(plain(code), salt, 32)).toString('hex');
}

/** Whether a typed code is the one that was hashed. */
export async function isCode(typed: string, salt: string, hash: string): Promise<boolean> {
  return timingSafeEqual(Buffer.from(await hashCode(typed, salt), 'hex'), Buffer.from(hash, 'hex'));
}
