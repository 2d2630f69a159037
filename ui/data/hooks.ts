import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { WorkState } from '../../core/judge/measure';
import type { TakeReport } from '../../core/report/types';
import type { Outlines } from '../../api/takes';
import { request } from './client';
import type { SetupPage, ShootPage } from '../../api/boards';
import type { ShootInList } from '../../api/plan';
import type { Roll, RollWish } from '../../api/rolls';
import type { Take, TakeInList, TakePage } from '../../api/takes';

/** Whether work on something has not ended yet. */
export function underWay(work: { state: WorkState } | null | undefined): boolean {
  return work?.state === 'waiting' || work?.state === 'working';
}

export function useShoots() {
  return useQuery({ queryKey: ['shoots'], queryFn: () => request<ShootInList[]>('/shoots') });
}

export function useShoot(id: string) {
  return useQuery({
    queryKey: ['shoots', id],
    queryFn: () => request<ShootPage>(`/shoots/${id}`),
    refetchInterval: (q) =>
      q.state.data?.setups.some((s) => s.parts.some((p) => p.takes.some(underWay))) ? 1500 : 6000,
  });
}

export function useSetup(id: string) {
  return useQuery({
    queryKey: ['setups', id],
    enabled: id !== '',
    queryFn: () => request<SetupPage>(`/setups/${id}`),
    refetchInterval: (q) => {
      const s = q.state.data;
      if (s && (s.rolls.length > 0 || s.parts.some((p) => p.takes.some(underWay)))) return 700;
      // What decides is being measured.
      return s?.gate.tricks.some((t) => t.requirements.some((r) => r.pending)) ? 1000 : 6000;
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
    refetchInterval: (q) => (q.state.data && underWay(q.state.data) ? 600 : false),
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
      q.state.data && (q.state.data.state === 'done' || q.state.data.state === 'failed') ? false : 400,
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
  return useChange((body: RollWish) => request<Roll>(`/parts/${partId}/rolls`, { method: 'POST', body }), ['setups']);
}

export function useCircle() {
  return useChange(
    ({ id, circled }: { id: string; circled: boolean }) =>
      request<Take>(`/takes/${id}/circled`, { method: 'PUT', body: { circled } }),
    ['takes', 'setups', 'shoots'],
  );
}
