import { Row } from '../ui/components/row';
import { Screen } from '../ui/components/screen';
import { Empty, Failed, Loading } from '../ui/components/states';
import { useShoots } from '../ui/data/hooks';

/** Shown until a setup was chosen on this device. */
export default function ChooseSetup() {
  const shoots = useShoots();
  return (
    <Screen where="Roll" title="Which setup are you at?">
      {shoots.isPending && <Loading what="the shoots" />}
      {shoots.error && !shoots.data && <Failed error={shoots.error} onAgain={shoots.refetch} />}
      {shoots.data?.length === 0 && <Empty title="No shoot yet" text="Make a shoot and a setup under Plan first." />}
      {shoots.data?.map((s) => <Row key={s.id} href={`/shoots/${s.id}`} title={s.name} text="Open it and choose the setup you stand at" />)}
    </Screen>
  );
}
