import { useQuery } from '@tanstack/react-query';
import type { HandOff, NewPack, Pack, PackedFile, TakenInAsked, TakenInPack } from '../../api/packs';
import { request } from './client';
import { underWay, useChange } from './hooks';

/** What of a shoot is ready to be handed off, and the packs made of it. */
export function useHandOff(shootId: string) {
  return useQuery({
    queryKey: ['hand-off', shootId],
    queryFn: () => request<HandOff>(`/shoots/${shootId}/hand-off`),
    enabled: shootId !== '',
    refetchInterval: (q) => (q.state.data?.packs.some(underWay) ? 1000 : 8000),
  });
}

export function useMakePack(shootId: string) {
  return useChange(
    (body: NewPack) => request<Pack>(`/shoots/${shootId}/packs`, { method: 'POST', body }),
    ['hand-off'],
  );
}

/** Looks into a pack that was sent, or takes it in. */
export function useTakeIn() {
  return useChange(
    (body: TakenInAsked) => request<TakenInPack>('/packs/taken-in', { method: 'POST', body }),
    ['shoots', 'setups', 'takes', 'hand-off'],
  );
}

export function useDeletePack() {
  return useChange((id: string) => request<unknown>(`/packs/${id}`, { method: 'DELETE' }), ['hand-off']);
}

export function usePack(id: string) {
  return useQuery({
    queryKey: ['packs', id],
    queryFn: () => request<Pack>(`/packs/${id}`),
    refetchInterval: (q) => (underWay(q.state.data) ? 1000 : false),
  });
}

/** The files of a pack; ask only once it is made. */
export function usePackFiles(id: string, ready: boolean) {
  return useQuery({
    queryKey: ['packs', id, 'files'],
    queryFn: () => request<PackedFile[]>(`/packs/${id}/files`),
    enabled: ready,
    staleTime: Infinity,
  });
}

/** Where a file of a pack is looked at, and the pack itself is had. */
export const packFileAt = (id: string, path: string): string =>
  `/api/packs/${id}/look/${path.split('/').map(encodeURIComponent).join('/')}`;
export const packZipAt = (id: string): string => `/api/packs/${id}/zip`;
