import { useQuery } from '@tanstack/react-query';
import type { MeterReading } from '../../core/judge/meter';
import type { Run } from '../../core/report/types';
import { request } from './client';
import { useChange } from './hooks';
import type { Plate, PlateBenchPage, Take, TakesCompared } from './types';

const underWay = (p: { state: string }) => p.state === 'waiting' || p.state === 'making';

/** What the plate bench of a setup offers for one of its takes. */
export function useBench(setupId: string, forId: string | null) {
  return useQuery({
    queryKey: ['bench', setupId, forId],
    queryFn: () => request<PlateBenchPage>(`/setups/${setupId}/plates${forId ? `?for=${forId}` : ''}`),
    placeholderData: (old) => old,
    refetchInterval: (q) => (q.state.data?.plates.some(underWay) ? 500 : 8000),
  });
}

export interface PlateWish {
  take_id: string;
  against_id: string;
  run: Run | null;
  keep_grain: boolean;
}

export function useMakePlate(setupId: string) {
  return useChange(
    (body: PlateWish) => request<Plate>(`/setups/${setupId}/plates`, { method: 'POST', body }),
    ['bench'],
  );
}

export function useKeepPlate() {
  return useChange(
    ({ id, partId }: { id: string; partId: string }) =>
      request<Take>(`/plates/${id}/keep`, { method: 'POST', body: { part_id: partId } }),
    ['bench', 'setups', 'shoots', 'takes'],
  );
}

export function useDropPlate() {
  return useChange(
    ({ id, on }: { id: string; on: boolean }) =>
      request<unknown>(`/plates/${id}/deleted`, { method: 'PUT', body: { on } }),
    ['bench'],
  );
}

/** Two takes of a setup beside each other; asks for the comparison when nobody has yet. */
export function useCompared(takeId: string | null, againstId: string | null) {
  return useQuery({
    queryKey: ['compared', takeId, againstId],
    enabled: takeId !== null && againstId !== null && takeId !== againstId,
    queryFn: async () => {
      const found = await request<TakesCompared>(`/comparisons?take_id=${takeId}&against_id=${againstId}`);
      return found.comparison
        ? found
        : request<TakesCompared>('/comparisons', { method: 'POST', body: { take_id: takeId, against_id: againstId } });
    },
    refetchInterval: (q) => {
      const c = q.state.data?.comparison;
      return c && (c.state === 'waiting' || c.state === 'comparing') ? 700 : false;
    },
  });
}

export function useKeepMeter(takeId: string) {
  return useChange(
    (readings: MeterReading[]) => request<Take>(`/takes/${takeId}/meter`, { method: 'PUT', body: { readings } }),
    ['takes', 'compared'],
  );
}

export function platePicture(id: string): string {
  return `/api/plates/${id}/picture`;
}
