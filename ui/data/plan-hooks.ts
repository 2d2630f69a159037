import { useQuery } from '@tanstack/react-query';
import type { CameraNotes } from '../../core/plan/types';
import type { SumKind, SumValues } from '../../core/calculators/kinds';
import type { Trick, TrickWishes } from '../../core/tricks/types';
import { request } from './client';
import { useChange } from './hooks';
import type { PlannedPage } from '../../api/boards';
import type { ImportPreview, KeptSum, Part, Planned, SensorInTable, Setup, Shoot, ShootFields } from '../../api/plan';

const PLAN = ['shoots', 'setups', 'planned', 'sheets', 'takes', 'reports'];

/** A change says which version of what it changes was seen. */
interface Seen {
  seen: number;
}

/** A planned trick with its setup and shoot; an empty id asks nothing. */
export function usePlanned(id: string) {
  return useQuery({
    queryKey: ['planned', id],
    enabled: id !== '',
    queryFn: () => request<PlannedPage>(`/planned/${id}`),
  });
}

export function useSensors() {
  return useQuery({ queryKey: ['sensors'], queryFn: () => request<SensorInTable[]>('/sensors'), staleTime: 60_000 });
}

export function useNewShoot() {
  return useChange((body: Partial<ShootFields>) => request<Shoot>('/shoots', { method: 'POST', body }), ['shoots']);
}

export function useChangeShoot(id: string) {
  return useChange(
    ({ seen, ...body }: Partial<ShootFields> & Seen) =>
      request<Shoot>(`/shoots/${id}`, { method: 'PATCH', body, seen }),
    PLAN,
  );
}

export function useNewSetup(shootId: string) {
  return useChange(
    (body: { name: string; place: string; notes: string }) =>
      request<Setup>(`/shoots/${shootId}/setups`, { method: 'POST', body }),
    ['shoots'],
  );
}

export interface SetupChange {
  name?: string;
  notes?: string;
  place?: string;
  scene?: string;
  camera?: Partial<CameraNotes>;
}

export function useChangeSetup(id: string) {
  return useChange(
    ({ seen, ...body }: SetupChange & Seen) => request<Setup>(`/setups/${id}`, { method: 'PATCH', body, seen }),
    PLAN,
  );
}

export function useChangePart() {
  return useChange(
    ({ id, seen, ...body }: Partial<Part> & Seen & { id: string }) =>
      request<Part>(`/parts/${id}`, { method: 'PATCH', body, seen }),
    PLAN,
  );
}

/** Archives, deletes or brings back. */
export function useMark() {
  return useChange(
    ({
      what,
      id,
      word,
      on,
    }: {
      what: 'shoots' | 'setups' | 'parts' | 'planned';
      id: string;
      word: 'archived' | 'deleted';
      on: boolean;
    }) => request<{ ok: true }>(`/${what}/${id}/${word}`, { method: 'PUT', body: { on } }),
    PLAN,
  );
}

export function useCopy() {
  return useChange(
    ({ what, id, body }: { what: 'shoots' | 'setups' | 'planned'; id: string; body?: { setup_id: string } }) =>
      request<{ id: string }>(`/${what}/${id}/copy`, { method: 'POST', body: body ?? {} }),
    PLAN,
  );
}

export function useOrder() {
  return useChange(
    ({ path, ids }: { path: string; ids: string[] }) => request<{ ok: true }>(path, { method: 'PUT', body: { ids } }),
    PLAN,
  );
}

export function usePutTrick(setupId: string) {
  return useChange(
    (body: { key: string } | { trick: Trick }) =>
      request<Planned>(`/setups/${setupId}/tricks`, { method: 'POST', body }),
    PLAN,
  );
}

export function useChangeTrick(id: string) {
  return useChange(
    ({ seen, ...body }: { trick: Trick; wishes: TrickWishes } & Seen) =>
      request<Planned>(`/planned/${id}`, { method: 'PUT', body, seen }),
    PLAN,
  );
}

export function useEyeCheck() {
  return useChange(
    ({ plannedId, key, ...body }: { plannedId: string; key: string; done: boolean; by?: string; at: string }) =>
      request<{ ok: true }>(`/planned/${plannedId}/eye-checks/${key}`, { method: 'PUT', body }),
    ['setups', 'shoots', 'planned'],
  );
}

export function useKeepSum() {
  return useChange(
    ({ plannedId, kind, inputs }: { plannedId: string; kind: SumKind; inputs: SumValues }) =>
      request<KeptSum>(`/planned/${plannedId}/sums`, { method: 'POST', body: { kind, inputs } }),
    ['planned', 'setups'],
  );
}

export function useDropSum() {
  return useChange((id: string) => request<{ ok: true }>(`/sums/${id}`, { method: 'DELETE' }), ['planned', 'setups']);
}

export function useImport(shootId: string) {
  return useChange(
    (body: { text: string; apply: boolean }) =>
      request<ImportPreview>(`/shoots/${shootId}/shot-list`, { method: 'POST', body }),
    PLAN,
  );
}

export function usePutSensor() {
  return useChange(
    ({ key, ...body }: { key: string; name: string; width_mm: number; height_mm: number }) =>
      request<unknown>(`/sensors/${key}`, { method: 'PUT', body }),
    ['sensors'],
  );
}

export function useDropSensor() {
  return useChange((key: string) => request<unknown>(`/sensors/${key}`, { method: 'DELETE' }), ['sensors']);
}
