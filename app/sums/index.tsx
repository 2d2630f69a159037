import { Row } from '../../ui/components/row';
import { Screen } from '../../ui/components/screen';
import { Soft } from '../../ui/components/words';
import { SUM_KINDS } from '../../core/calculators/kinds';
import { SUM_SHEETS } from '../../core/calculators/sheets';

export default function Sums() {
  return (
    <Screen where="Plan" title="Sums">
      <Soft>Each answers as you type and shows its working. Keep one with a trick to have it at hand on set.</Soft>
      {SUM_KINDS.map((kind) => (
        <Row
          key={kind}
          href={`/sums/${kind}`}
          title={SUM_SHEETS[kind].name}
          text={SUM_SHEETS[kind].answers}
          testID={`sum-${kind}`}
        />
      ))}
      <Row
        href="/sums/sensors"
        title="Sensors and formats"
        text="The table the lens sums draw on, to look up and to edit"
      />
    </Screen>
  );
}
