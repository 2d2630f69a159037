import { Upload } from 'tus-js-client';

export interface Sending {
  onProgress: (sent: number, total: number) => void;
  /** The connection dropped; it is tried again. */
  onPause: () => void;
  onError: (text: string) => void;
  /** It has arrived, under this id. */
  onDone: (id: string) => void;
}

/** Sends a file in pieces, going on after a dropped connection, even after the page was closed. */
export function sendFile(file: File, { onProgress, onPause, onError, onDone }: Sending): Upload {
  const upload = new Upload(file, {
    endpoint: '/api/uploads',
    chunkSize: 16 * 1024 * 1024,
    retryDelays: [500, 1500, 4000, 8000, 15000, 30000],
    metadata: { filename: file.name },
    removeFingerprintOnSuccess: true,
    onProgress,
    onShouldRetry: (error) => {
      const status = error.originalResponse?.getStatus() ?? 0;
      onPause();
      return status === 0 || status >= 500 || status === 409 || status === 423;
    },
    onError: (error) => {
      const body = 'originalResponse' in error ? error.originalResponse?.getBody() : undefined;
      onError(
        body ||
          'The connection dropped and did not come back. Choose the same file again; it goes on where it stopped.',
      );
    },
    onSuccess: () => onDone(upload.url?.split('/').pop() ?? ''),
  });
  upload.findPreviousUploads().then(
    (previous) => {
      if (previous.length > 0) upload.resumeFromPreviousUpload(previous[0]);
      upload.start();
    },
    () => upload.start(),
  );
  return upload;
}
