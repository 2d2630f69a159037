import { useQuery } from '@tanstack/react-query';
import type { MeasureAsked, MeasureOf, MeasureSent } from '../../api/measures';
import type { MeasureKey, ResultOf, WishOf } from '../../core/measures';
import { request } from './client';
import { underWay, useChange } from './hooks';

const asked = (takes: readonly string[], wish?: object): MeasureAsked => ({
  take: takes[0],
  against: takes[1] ?? null,
  wish,
});

/** A measure of takes, whole, with its verdict; asked for when nobody has yet. Null takes ask nothing. */
export function useMeasure<K extends MeasureKey>(key: K, takes: readonly string[] | null) {
  return useQuery({
    queryKey: ['measures', key, takes],
    enabled: takes !== null,
    queryFn: async () => {
      const [take, against] = takes!;
      const query = `take=${take}${against ? `&against=${against}` : ''}`;
      type Sent = MeasureSent<WishOf<K>, ResultOf<K>>;
      const found = await request<Sent | null>(`/measures/${key}/of?${query}`);
      return found ?? (await request<Sent>(`/measures/${key}`, { method: 'POST', body: asked(takes!) }));
    },
    refetchInterval: (q) => (underWay(q.state.data) ? 700 : false),
  });
}

/** The same, when somebody has asked for it; null when nobody has. Null takes ask nothing. */
export function useFoundMeasure<K extends MeasureKey>(key: K, takes: readonly string[] | null) {
  return useQuery({
    queryKey: ['measures', 'found', key, takes],
    enabled: takes !== null,
    queryFn: () => {
      const query = `take=${takes![0]}${takes![1] ? `&against=${takes![1]}` : ''}`;
      return request<MeasureSent<WishOf<K>, ResultOf<K>> | null>(`/measures/${key}/of?${query}`);
    },
    refetchInterval: (q) => (underWay(q.state.data) ? 700 : false),
  });
}

/** Asks for a measure of takes, with a wish where one is given; then the named lists are read again. */
export function useAsk<K extends MeasureKey>(key: K, stale: string[]) {
  return useChange(
    ({ takes, wish }: { takes: readonly string[]; wish?: WishOf<K> }) =>
      request<MeasureOf<K>>(`/measures/${key}`, { method: 'POST', body: asked(takes, wish) }),
    ['measures', ...stale],
  );
}

/** What shows how far measures are. */
const SHOWN = ['measures', 'takes', 'setups', 'shoots', 'bench', 'compared', 'wipes'];

const callOff = (id: string) => request<MeasureSent>(`/measures/${id}/call-off`, { method: 'POST' });

/** Calls work on a measure off, by its id, waiting or under way. */
export function useCallOff() {
  return useChange(callOff, SHOWN);
}

/** The same for the measuring of a take itself, by the take's id. */
export function useCallTakeOff() {
  return useChange(async (take: string) => {
    const found = await request<MeasureSent | null>(`/measures/take/of?take=${take}`);
    return found && callOff(found.id);
  }, SHOWN);
}

/** Has a measure that failed, or was called off, made again. */
export function useMakeAgain() {
  return useChange((id: string) => request<MeasureSent>(`/measures/${id}/again`, { method: 'POST' }), SHOWN);
}

/** Takes something that was made out of sight, or brings it back. */
export function useDropMeasure(stale: string[]) {
  return useChange(
    ({ id, on }: { id: string; on: boolean }) =>
      request<{ ok: true }>(`/measures/${id}/deleted`, { method: 'PUT', body: { on } }),
    stale,
  );
}
