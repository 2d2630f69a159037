import { useLocalSearchParams } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Empty, Failed, Loading } from '../../../ui/components/states';
import { useReport, useTake } from '../../../ui/data/hooks';
import { MomentsBench } from '../../../ui/moments/moments-bench';

export default function MomentsScreen() {
  const { id, frame } = useLocalSearchParams<{ id: string; frame?: string }>();
  const take = useTake(id);
  const report = useReport(id, take.data?.state === 'done');
  const error = take.error ?? report.error;
  if (!take.data || !report.data) {
    const measuring = take.data && take.data.state !== 'done';
    return (
      <Screen where="Check" title="Moments">
        {error ? (
          <Failed error={error} onAgain={take.error ? take.refetch : report.refetch} />
        ) : measuring ? (
          <Empty title="Not measured yet" text="The take is measured first; then its moments are looked for." />
        ) : (
          <Loading what="the take" />
        )}
      </Screen>
    );
  }
  return (
    <MomentsBench
      key={id}
      take={take.data}
      report={report.data}
      startFrame={frame === undefined ? null : Number(frame)}
    />
  );
}
