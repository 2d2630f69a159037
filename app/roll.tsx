import { Disc } from '../ui/components/disc';
import { Row } from '../ui/components/row';
import { Screen } from '../ui/components/screen';
import { Empty, Failed, Loading } from '../ui/components/states';
import { Heading, Mono } from '../ui/components/words';
import { useShoot, useShoots } from '../ui/data/hooks';
import type { ShootInList } from '../api/plan';

/** Shown until a setup was chosen on this device. */
export default function ChooseSetup() {
  const shoots = useShoots();
  const live = shoots.data?.filter((s) => !s.archived && !s.deleted) ?? [];
  return (
    <Screen where="Roll" title="Which setup are you at?">
      {shoots.isPending && <Loading what="the shoots" />}
      {shoots.error && !shoots.data && <Failed error={shoots.error} onAgain={shoots.refetch} />}
      {shoots.data && live.length === 0 && (
        <Empty title="No shoot yet" text="Make a shoot and a setup under Plan first." />
      )}
      {live.map((s) => (
        <SetupsOfShoot key={s.id} shoot={s} />
      ))}
    </Screen>
  );
}

function SetupsOfShoot({ shoot }: { shoot: ShootInList }) {
  const page = useShoot(shoot.id);
  const setups = page.data?.setups.filter((s) => !s.archived);
  return (
    <>
      <Heading style={{ paddingTop: 14 }}>{shoot.name}</Heading>
      {page.isPending && <Loading what="its setups" />}
      {page.error && !page.data && <Failed error={page.error} onAgain={page.refetch} />}
      {setups?.length === 0 && <Row href={`/shoots/${shoot.id}`} title="No setup yet" text="Add one under Plan" />}
      {setups?.map((s) => (
        <Row
          key={s.id}
          href={`/setups/${s.id}`}
          lead={<Disc verdict={s.gate.verdict} />}
          title={`${s.number}  ${s.name}`}
          text={s.gate.headline}
          testID={`at-setup-${s.number}`}
          trail={<Mono>{`${s.parts.filter((q) => q.takes.length).length} of ${s.parts.length}`}</Mono>}
        />
      ))}
    </>
  );
}
