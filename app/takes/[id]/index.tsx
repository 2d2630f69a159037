import { useQueryClient } from '@tanstack/react-query';
import { useLocalSearchParams } from 'expo-router';
import { useEffect } from 'react';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useReport, useTake } from '../../../ui/data/hooks';
import { TakeView } from '../../../ui/take/take-view';

export default function TakeScreen() {
  const { id, frame } = useLocalSearchParams<{ id: string; frame?: string }>();
  const take = useTake(id);
  const report = useReport(id, take.data?.state === 'done');
  const client = useQueryClient();
  const measured = report.data !== undefined;
  useEffect(() => {
    // The gate one goes to next already knows of this take.
    if (measured) client.refetchQueries({ queryKey: ['setups'], type: 'inactive' }).catch(() => undefined);
  }, [measured, client]);
  const error = take.error ?? report.error;
  if (!take.data) {
    return (
      <Screen where="Check" title="Take">
        {error ? <Failed error={error} onAgain={take.refetch} /> : <Loading what="the take" />}
      </Screen>
    );
  }
  return (
    <TakeView
      key={id}
      take={take.data}
      report={report.data ?? null}
      error={report.error}
      startFrame={frame === undefined ? null : Number(frame)}
    />
  );
}
