import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { WipeBenchPage } from '../../api/wipes';
import { request } from './client';
import { underWay } from './hooks';
import { useAsk } from './measure-hooks';

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
  const { mutate: askCover } = useAsk('cover', ['wipes']);
  const { mutate: askCut } = useAsk('cut', ['wipes']);
  const { data } = query;
  const out = data?.outId ?? null;
  const into = data?.inId ?? null;
  const wantsCover = out !== null && !data?.cover;
  const wantsCut = into !== null && !data?.cut && data?.cover && !underWay(data.cover);
  useEffect(() => {
    if (wantsCover && out) askCover({ takes: [out] });
  }, [wantsCover, out, askCover]);
  useEffect(() => {
    if (wantsCut && out && into) askCut({ takes: [out, into] });
  }, [wantsCut, out, into, askCut]);
  return {
    ...query,
    coverAgain: () => out && askCover({ takes: [out] }),
    cutAgain: () => out && into && askCut({ takes: [out, into] }),
  };
}

export const proofFrame = (id: string, frame: number) => `/api/proofs/${id}/frames/${frame}`;
export const proofFilm = (id: string, as: 'mp4' | 'webm', save = false) =>
  `/api/proofs/${id}/film?as=${as}${save ? '&save=true' : ''}`;
