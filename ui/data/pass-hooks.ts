import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { PassBenchPage, ZonePage } from '../../api/passes';
import type { Planned } from '../../api/plan';
import { turnedRound, turnedTable, unpackGaps, type PassOutlines } from '../../core/movers/kept';
import { MEASURES, type MeasureKey } from '../../core/measures';
import type { Zone } from '../../core/tricks/zones';
import { request, requestBytes, ServerSays } from './client';
import { underWay, useChange } from './hooks';
import { useAsk } from './measure-hooks';

/** What the pass bench of a setup shows for two takes; has what is not known yet measured. */
export function usePassBench(setupId: string, first: string | null, second: string | null) {
  const query = useQuery({
    queryKey: ['passes', setupId, first, second],
    placeholderData: (old) => old,
    queryFn: () => {
      const takes = [first && `first=${first}`, second && `second=${second}`].filter(Boolean).join('&');
      return request<PassBenchPage>(`/setups/${setupId}/passes${takes ? `?${takes}` : ''}`);
    },
    refetchInterval: (q) => {
      const b = q.state.data;
      return b && (underWay(b.pair) || underWay(b.hide) || underWay(b.moment) || b.proofs.some(underWay)) ? 500 : 6000;
    },
  });
  const { mutate: askPair } = useAsk('pair', ['passes']);
  const { mutate: askHide } = useAsk('hide', ['passes']);
  const { data } = query;
  const one = data?.firstId ?? null,
    two = data?.secondId ?? null;
  const wantsPair = one !== null && two !== null && !data?.pair;
  const wantsMoment = data && data.wants && !data.moment ? data.wants : null;
  const wantsHide = one !== null && data?.how === 'switch' && !data.hide;
  useEffect(() => {
    if (wantsPair && one && two) askPair({ takes: [one, two] });
  }, [wantsPair, one, two, askPair]);
  const { mutate: askMoment } = useChange(
    ({ key, takes }: { key: MeasureKey; takes: readonly string[] }) =>
      request<unknown>(`/measures/${key}`, { method: 'POST', body: { take: takes[0], against: takes[1] ?? null } }),
    ['measures', 'passes'],
  );
  useEffect(() => {
    if (!wantsMoment || !one || !two) return;
    askMoment({ key: wantsMoment, takes: MEASURES[wantsMoment].takes === 2 ? [one, two] : [one] });
  }, [wantsMoment, one, two, askMoment]);
  useEffect(() => {
    if (wantsHide && one) askHide({ takes: [one] });
  }, [wantsHide, one, askHide]);
  return query;
}

/** What a line drawn by hand is held against: who stands where in the two, and how near they are at any slide. */
export function useDrawnAgainst(pair: { id: string; take_id: string; state: string } | null, firstId: string | null) {
  const turned = pair !== null && pair.take_id !== firstId;
  return useQuery({
    queryKey: ['drawn-against', pair?.id, turned],
    enabled: pair?.state === 'done',
    staleTime: 60_000,
    queryFn: async () => {
      const outlines = await request<PassOutlines>(`/pairs/${pair!.id}/outlines`).catch((error: unknown) => {
        // A pair that an older version measured keeps none.
        if (error instanceof ServerSays && error.status === 404) return null;
        throw error;
      });
      const bytes = await requestBytes(`/pairs/${pair!.id}/gaps`);
      const table = bytes && unpackGaps(bytes);
      return {
        outlines: outlines && turned ? turnedRound(outlines) : outlines,
        table: table && turned ? turnedTable(table) : table,
      };
    },
  });
}

/** The zones of a setup's tricks. */
export function useZones(setupId: string) {
  return useQuery({
    queryKey: ['zones', setupId],
    queryFn: () => request<ZonePage>(`/setups/${setupId}/zones`),
    // What a new zone wants is asked for by the worker, which looks now and then.
    refetchInterval: (q) =>
      q.state.data?.tricks.some((t) => t.zone && t.takes.some((k) => !k.zone || underWay(k.zone))) ? 700 : 6000,
  });
}

/** Keeps the zone of a planned trick, or forgets it. */
export function useKeepZone() {
  return useChange(
    ({ id, zone, seen }: { id: string; zone: Zone | null; seen: number }) =>
      request<Planned>(`/planned/${id}/zone`, { method: 'PUT', body: { zone }, seen }),
    ['setups', 'shoots', 'planned', 'takes', 'passes', 'zones'],
  );
}
