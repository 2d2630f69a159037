import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { TakeReport } from '../../core/report/types';
import { request } from './client';
import type { Roll, RollSettings, SetupPage, ShootInList, ShootPage, Take, TakeInList, TakePage } from './types';

const busy = (take: { state: string }) => take.state === 'waiting' || take.state === 'measuring';

export function useShoots() {
  return useQuery({ queryKey: ['shoots'], queryFn: () => request<ShootInList[]>('/shoots') });
}

export function useShoot(id: string) {
  return useQuery({
    queryKey: ['shoots', id],
    queryFn: () => request<ShootPage>(`/shoots/${id}`),
    refetchInterval: (q) => (q.state.data?.setups.some((s) => s.parts.some((p) => p.takes.some(busy))) ? 1500 : 6000),
  });
}

export function useSetup(id: string) {
  return useQuery({
    queryKey: ['setups', id],
    enabled: id !== '',
    queryFn: () => request<SetupPage>(`/setups/${id}`),
    refetchInterval: (q) => {
      const s = q.state.data;
      return s && (s.rolls.length > 0 || s.parts.some((p) => p.takes.some(busy))) ? 700 : 6000;
    },
  });
}

export function useTakesToCheck() {
  return useQuery({ queryKey: ['takes'], queryFn: () => request<TakeInList[]>('/takes'), refetchInterval: 4000 });
}

export function useTake(id: string) {
  return useQuery({
    queryKey: ['takes', id],
    queryFn: () => request<TakePage>(`/takes/${id}`),
    refetchInterval: (q) => (q.state.data && busy(q.state.data) ? 600 : false),
  });
}

/** The full report; ask only once the take is measured. */
export function useReport(id: string, ready: boolean) {
  return useQuery({
    queryKey: ['reports', id],
    queryFn: () => request<TakeReport>(`/takes/${id}/report`),
    enabled: ready,
    staleTime: Infinity,
  });
}

/** Who stands where in each frame of a take, for drawing over the picture. */
export interface Outlines {
  width: number;
  height: number;
  frames: number[][];
  zone_step: number;
  zones: number[][];
}

export function useOutlines(id: string, wanted: boolean) {
  return useQuery({
    queryKey: ['outlines', id],
    queryFn: () => request<Outlines>(`/takes/${id}/outlines`),
    enabled: wanted,
    staleTime: Infinity,
  });
}

export function useRoll(id: string | null) {
  return useQuery({
    queryKey: ['rolls', id],
    queryFn: () => request<Roll>(`/rolls/${id}`),
    enabled: id !== null,
    refetchInterval: (q) =>
      q.state.data && (q.state.data.state === 'rolled' || q.state.data.state === 'failed') ? false : 400,
  });
}

/** A change sent to the server, after which the named lists are read again. */
export function useChange<In, Out>(send: (input: In) => Promise<Out>, stale: string[]) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: () => Promise.all(stale.map((key) => client.invalidateQueries({ queryKey: [key] }))),
  });
}

export function useNewPart(setupId: string) {
  return useChange(
    (body: { name: string; what: string; seconds?: number }) =>
      request<unknown>(`/setups/${setupId}/parts`, { method: 'POST', body }),
    ['setups', 'shoots'],
  );
}

export function useStartRoll(partId: string) {
  return useChange(
    (body: RollSettings) => request<Roll>(`/parts/${partId}/rolls`, { method: 'POST', body }),
    ['setups'],
  );
}

export function useCircle() {
  return useChange(
    ({ id, circled }: { id: string; circled: boolean }) =>
      request<Take>(`/takes/${id}/circled`, { method: 'PUT', body: { circled } }),
    ['takes', 'setups', 'shoots'],
  );
}

export function useMeasureAgain() {
  return useChange((id: string) => request<Take>(`/takes/${id}/measure`, { method: 'POST' }), ['takes', 'setups']);
}
