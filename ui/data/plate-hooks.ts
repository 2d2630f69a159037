import { useQuery } from '@tanstack/react-query';
import type { PlateBenchPage } from '../../api/plates';
import type { Take, TakesCompared } from '../../api/takes';
import type { MeterReading } from '../../core/judge/meter';
import { request } from './client';
import { underWay, useChange } from './hooks';
import { useMeasure } from './measure-hooks';

/** What the plate bench of a setup offers for one of its takes. */
export function useBench(setupId: string, forId: string | null) {
  return useQuery({
    queryKey: ['bench', setupId, forId],
    queryFn: () => request<PlateBenchPage>(`/setups/${setupId}/plates${forId ? `?for=${forId}` : ''}`),
    placeholderData: (old) => old,
    refetchInterval: (q) => (q.state.data?.plates.some(underWay) ? 500 : 8000),
  });
}

export function useKeepPlate() {
  return useChange(
    ({ id, partId }: { id: string; partId: string }) =>
      request<Take>(`/plates/${id}/keep`, { method: 'POST', body: { part_id: partId } }),
    ['bench', 'setups', 'shoots', 'takes'],
  );
}

/** Two takes of a setup beside each other, and what lies between them, asked for when nobody has yet. */
export function useCompared(takeId: string | null, againstId: string | null) {
  const both = takeId !== null && againstId !== null && takeId !== againstId;
  const page = useQuery({
    queryKey: ['compared', takeId, againstId],
    enabled: both,
    queryFn: () => request<TakesCompared>(`/comparisons?take_id=${takeId}&against_id=${againstId}`),
  });
  const comparison = useMeasure('compare', both && page.data ? [takeId, againstId] : null);
  const data = page.data && { ...page.data, comparison: comparison.data ?? page.data.comparison };
  return { ...page, data, error: page.error ?? comparison.error };
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
