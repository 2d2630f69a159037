import { Disc } from '../ui/components/disc';
import { Row } from '../ui/components/row';
import { Screen } from '../ui/components/screen';
import { Empty, Failed, Loading } from '../ui/components/states';
import { Heading, Mono } from '../ui/components/words';
import { useTakesToCheck } from '../ui/data/hooks';
import type { TakeInList } from '../api/takes';
import { takeLine } from '../ui/setup/take-line';

export default function CheckScreen() {
  const takes = useTakesToCheck();
  const all = takes.data ?? [];
  const see = all.filter((t) => t.state === 'failed' || t.verdict === 'reshoot' || t.verdict === 'unjudged');
  const under = all.filter((t) => t.state === 'waiting' || t.state === 'working');
  const fine = all.filter((t) => t.verdict === 'holds' || t.verdict === 'workable');
  return (
    <Screen where="Check" title={see.length ? `${see.length} ${see.length === 1 ? 'take' : 'takes'} to see` : 'Takes'}>
      {takes.isPending && <Loading what="the takes" />}
      {takes.error && !takes.data && <Failed error={takes.error} onAgain={takes.refetch} />}
      {takes.data?.length === 0 && (
        <Empty
          title="No take yet"
          text="Roll a part of a setup, or add a file to it. Its verdict stands here within seconds."
        />
      )}
      <Group name="Look at these first" takes={see} />
      <Group name="Being measured" takes={under} />
      <Group name="In order" takes={fine} />
    </Screen>
  );
}

function Group({ name, takes }: { name: string; takes: TakeInList[] }) {
  if (takes.length === 0) return null;
  return (
    <>
      <Heading style={{ paddingTop: 14 }}>{name}</Heading>
      {takes.map((t) => (
        <Row
          key={t.id}
          href={`/takes/${t.id}`}
          lead={<Disc verdict={t.verdict ?? 'unjudged'} />}
          title={`${t.part_name}, take ${t.number}`}
          text={takeLine(t)}
          trail={<Mono>{`setup ${t.setup_number}`}</Mono>}
        />
      ))}
    </>
  );
}
