import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { ChangedMark, TakePage } from '../../api/takes';
import type { ImportPreview } from '../../api/plan';
import type { Mark, MarkFields } from '../../core/plan/marks';
import { request } from './client';

const byFrame = (a: Mark, b: Mark) => a.frame - b.frame;

const READERS = ['setups', 'passes', 'reports', 'wipes', 'compared'];

/** What can be done with the marks of a take. What is changed is shown at once, and put back when it cannot be kept. */
export function useMarks(takeId: string) {
  const client = useQueryClient();
  const key = ['takes', takeId];
  const shown = (change: (marks: Mark[]) => Mark[]) =>
    client.setQueryData<TakePage>(key, (page) => page && { ...page, marks: change(page.marks).sort(byFrame) });
  /** The gate, and what lays takes on each other, read them too. */
  const again = () => Promise.all(READERS.map((k) => client.invalidateQueries({ queryKey: [k] })));
  const others = async (mark: Mark) => {
    shown((marks) => [...marks.filter((m) => m.id !== mark.id), mark]);
    await again();
  };
  const back = () => client.invalidateQueries({ queryKey: key });

  const add = useMutation({
    mutationFn: (mark: MarkFields) => request<Mark>(`/takes/${takeId}/marks`, { method: 'POST', body: mark }),
    onSuccess: others,
  });
  const change = useMutation({
    mutationFn: ({ id, ...body }: ChangedMark & { id: string }) =>
      request<Mark>(`/marks/${id}`, { method: 'PATCH', body }),
    onMutate: ({ id, ...more }) => shown((marks) => marks.map((m) => (m.id === id ? { ...m, ...more } : m))),
    // It may have been deleted since: an answer that comes late does not bring it back.
    onSuccess: async (mark) => {
      shown((marks) => marks.map((m) => (m.id === mark.id ? mark : m)));
      await again();
    },
    onError: back,
  });
  const remove = useMutation({
    mutationFn: ({ mark, on }: { mark: Mark; on: boolean }) =>
      request<Mark>(`/marks/${mark.id}/deleted`, { method: 'PUT', body: { on } }),
    onMutate: ({ mark, on }) => {
      shown((marks) => [...marks.filter((m) => m.id !== mark.id), ...(on ? [] : [mark])]);
    },
    onSuccess: (mark, { on }) => {
      if (!on) return others(mark);
      return again();
    },
    onError: back,
  });
  const takeIn = useMutation({
    mutationFn: (body: { text: string; apply: boolean }) =>
      request<ImportPreview>(`/takes/${takeId}/marks/file`, { method: 'POST', body }),
    onSuccess: async ({ applied }) => {
      if (!applied) return;
      await back();
      await again();
    },
  });
  return { add, change, remove, takeIn };
}

export type Marks = ReturnType<typeof useMarks>;
