import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { HandCover } from '../../core/cover/by-hand';
import type { ProofWish } from '../../core/cut/proof-plan';
import { request } from './client';
import { useChange } from './hooks';
import type { Proof, WipeBenchPage } from './types';

const underWay = (w: { state: string } | null) => w !== null && (w.state === 'waiting' || w.state === 'working');

/** What the wipe bench of a setup shows for two takes; has what is not known yet measured. */
export function useWipeBench(setupId: string, outId: string | null, inId: string | null) {
  const query = useQuery({
    queryKey: ['wipes', setupId, outId, inId],
    placeholderData: (old) => old,
    queryFn: () => {
      const sides = [outId && `out=${outId}`, inId && `in=${inId}`].filter(Boolean).join('&');
      return request<WipeBenchPage>(`/setups/${setupId}/wipes${sides ? `?${sides}` : ''}`);
    },
    refetchInterval: (q) => {
      const b = q.state.data;
      return b && (underWay(b.cover) || underWay(b.cut) || b.proofs.some(underWay)) ? 500 : 6000;
    },
  });
  const ask = useChange(
    ({ path, body }: { path: string; body?: unknown }) => request<unknown>(path, { method: 'POST', body }),
    ['wipes'],
  );
  const { data } = query;
  const wantsCover = data?.outId && !data.cover ? data.outId : null,
    wantsCut =
      data?.outId && data.inId && !data.cut && data.cover && !underWay(data.cover)
        ? `${data.outId} ${data.inId}`
        : null;
  const { mutate } = ask;
  useEffect(() => {
    if (wantsCover) mutate({ path: `/takes/${wantsCover}/cover` });
  }, [wantsCover, mutate]);
  useEffect(() => {
    if (!wantsCut) return;
    const [out_id, in_id] = wantsCut.split(' ');
    mutate({ path: '/cuts', body: { out_id, in_id } });
  }, [wantsCut, mutate]);
  return { ...query, again: (path: string, body?: unknown) => mutate({ path, body }) };
}

export function useMakeProof() {
  return useChange(
    (body: ProofWish & { out_id: string; in_id: string }) => request<Proof>('/proofs', { method: 'POST', body }),
    ['wipes'],
  );
}

export function useDropProof() {
  return useChange(
    ({ id, on }: { id: string; on: boolean }) =>
      request<unknown>(`/proofs/${id}/deleted`, { method: 'PUT', body: { on } }),
    ['wipes'],
  );
}

/** Keeps edges set by hand, or takes them away with null; the cover is measured anew. */
export function useKeepEdges(takeId: string) {
  return useChange(
    (hand: HandCover | null) => request<unknown>(`/takes/${takeId}/cover/edges`, { method: 'PUT', body: { hand } }),
    ['wipes', 'setups'],
  );
}

export const proofFrame = (id: string, frame: number) => `/api/proofs/${id}/frames/${frame}`;
export const proofFilm = (id: string, as: 'mp4' | 'webm', save = false) =>
  `/api/proofs/${id}/film?as=${as}${save ? '&save=true' : ''}`;
