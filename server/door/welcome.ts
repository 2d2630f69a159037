import { toString as toQr } from 'qrcode';
import type { Config } from '../platform/config';
import { networkAddresses } from './own-pages';

/** The address to open, for other devices where they can reach it. */
export function addressOf({ host, port }: Pick<Config, 'host' | 'port'>): string {
  const any = host === '0.0.0.0' || host === '::';
  const name = any ? (networkAddresses()[0] ?? 'localhost') : host.includes(':') ? `[${host}]` : host;
  return `http://${name}:${port}`;
}

/**
 * What the start command prints once the server answers.
 * @param code the pass code, just made; 'old' for one made before, null where none is needed
 */
export async function welcome(config: Pick<Config, 'host' | 'port'>, code: string | null): Promise<string> {
  const address = addressOf(config);
  const ready = `Umbrastat is ready: ${address}\n`;
  if (code === null) return ready;
  if (code === 'old')
    return (
      `${ready}Devices join with the pass code that was shown when it was made. ` +
      `For a new one: UMBRASTAT_NEW_CODE=yes ./start (who has joined stays).\n`
    );
  const qr = await toQr(`${address}/#code=${code}`, { type: 'terminal', small: true });
  return `${ready}Pass code for other devices: ${code}\nIt is not shown again. Or scan:\n${qr}\n`;
}
