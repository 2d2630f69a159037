import { Client } from 'pg';

const AGAIN_MS = 1000;

/**
 * Hears what is told in the database on some channels, and goes on hearing when the connection drops; gives a function
 * that stops it. @param hear called with the channel; and with null once a connection stands, as things may have been missed
 */
export async function listenTo(
  database: string,
  channels: readonly string[],
  hear: (channel: string | null) => void,
): Promise<() => Promise<void>> {
  let stopped = false;
  let ears: Client | null = null;
  const listen = async () => {
    if (stopped) return;
    const client = new Client({ connectionString: database });
    client.on('error', () => undefined);
    client.on('end', () => {
      ears = null;
      if (!stopped) setTimeout(() => void listen(), AGAIN_MS);
    });
    client.on('notification', ({ channel }) => hear(channel));
    try {
      await client.connect();
      await client.query(channels.map((c) => `LISTEN ${c}`).join('; '));
      ears = client;
      hear(null);
    } catch {
      await client.end().catch(() => undefined);
    }
  };
  await listen();
  return async () => {
    stopped = true;
    await ears?.end().catch(() => undefined);
  };
}
