import { useLocalSearchParams } from 'expo-router';
import { SUM_KINDS, type SumKind, type SumValues } from '../../core/calculators/kinds';
import { Screen } from '../../ui/components/screen';
import { Empty } from '../../ui/components/states';
import { SumScreen } from '../../ui/sums/sum-screen';

function valuesFrom(text: string | undefined): SumValues | null {
  try {
    return text ? (JSON.parse(text) as SumValues) : null;
  } catch {
    return null;
  }
}

export default function SumRoute() {
  const { kind, planned, inputs } = useLocalSearchParams<{ kind: string; planned?: string; inputs?: string }>();
  if (!(SUM_KINDS as readonly string[]).includes(kind)) {
    return (
      <Screen where="Sums" title="Sum">
        <Empty title="There is no such sum" text="Go back to the list of sums." />
      </Screen>
    );
  }
  return (
    <SumScreen
      key={`${kind}${inputs ?? ''}`}
      kind={kind as SumKind}
      plannedId={planned ?? null}
      start={valuesFrom(inputs)}
    />
  );
}
