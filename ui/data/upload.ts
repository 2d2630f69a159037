import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef, useState } from 'react';
import type { Upload } from 'tus-js-client';
import { request, ServerSays } from './client';
import { sendFile } from './send-file';
import type { Take } from '../../api/takes';

export interface UploadState {
  name: string;
  sent: number;
  total: number;
  paused: boolean;
  error: string | null;
  /** Asks again for a take of what was sent; null where that cannot help. */
  again: (() => void) | null;
}

/**
 * Takes a file in: sends it in pieces (going on after a dropped connection, even after the page was closed),
 * then asks for a take to be made of it.
 */
export function useUpload(onTake: (take: Take) => void) {
  const client = useQueryClient();
  const [state, setState] = useState<UploadState | null>(null);
  const current = useRef<Upload | null>(null);

  const start = useCallback(
    (file: File, partId: string) => {
      if (file.size === 0) {
        setState({
          name: file.name,
          sent: 0,
          total: 0,
          paused: false,
          error: `"${file.name}" is empty (0 bytes). Copy it from the card again.`,
          again: null,
        });
        return;
      }
      setState({ name: file.name, sent: 0, total: file.size, paused: false, error: null, again: null });
      const fail = (error: string, again: (() => void) | null = null) =>
        setState((s) => s && { ...s, paused: false, error, again });
      const take = (id: string) => {
        request<Take>(`/parts/${partId}/takes`, { method: 'POST', body: { upload_id: id, name: file.name } }).then(
          (made) => {
            setState(null);
            for (const key of ['setups', 'shoots', 'takes']) void client.invalidateQueries({ queryKey: [key] });
            onTake(made);
          },
          (error: Error) => {
            // The recording is kept where the server or the way to it failed, not the file.
            const kept = !(error instanceof ServerSays) || error.status >= 500 || error.status === 409;
            fail(error.message, kept ? () => retake(id) : null);
          },
        );
      };
      const retake = (id: string) => {
        setState((s) => s && { ...s, error: null, again: null });
        take(id);
      };
      current.current = sendFile(file, {
        onProgress: (sent, total) => setState((s) => s && { ...s, sent, total, paused: false }),
        onPause: () => setState((s) => s && { ...s, paused: true }),
        onError: fail,
        onDone: take,
      });
    },
    [client, onTake],
  );

  const clear = useCallback(() => {
    void current.current?.abort();
    setState(null);
  }, []);

  return { state, start, clear };
}
