import { View } from 'react-native';
import { Disc } from '../ui/components/disc';
import { Row } from '../ui/components/row';
import { Screen } from '../ui/components/screen';
import { Empty, Failed, Loading } from '../ui/components/states';
import { Body, Heading, Mono } from '../ui/components/words';
import { useTakesToCheck } from '../ui/data/hooks';
import type { TakeInList } from '../api/takes';
import { takeLine } from '../ui/setup/take-line';

/** What must be done about: what parts stand on and cannot be used, or what could not be measured. */
const isFault = (t: TakeInList) =>
  t.standing && (t.state === 'failed' || t.verdict === 'reshoot' || t.verdict === 'unjudged');

export default function CheckScreen() {
  const takes = useTakesToCheck();
  const all = takes.data ?? [];
  const see = all.filter(isFault);
  const under = all.filter((t) => t.state === 'waiting' || t.state === 'working');
  const rest = all.filter((t) => !see.includes(t) && !under.includes(t));
  const setups = [...new Map(see.map((t) => [t.setup_id, t])).values()].sort(
    (a, b) => a.shoot_name.localeCompare(b.shoot_name) || a.setup_number - b.setup_number,
  );
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
      {takes.data && takes.data.length > 0 && see.length === 0 && (
        <Body>Nothing to do: every part stands on a take that can be used.</Body>
      )}
      {setups.map((s) => (
        <View key={s.setup_id} testID={`faults-${s.setup_number}`}>
          <Heading style={{ paddingTop: 14 }}>{`Setup ${s.setup_number}, ${s.setup_name}`}</Heading>
          {see
            .filter((t) => t.setup_id === s.setup_id)
            .map((t) => (
              <TakeRow key={t.id} take={t} text={[t.failure ?? t.text, t.fix].filter(Boolean).join(' ')} />
            ))}
        </View>
      ))}
      <Group name="Being measured" takes={under} />
      <Group name={see.length + under.length > 0 ? 'All other takes' : 'All takes'} takes={rest} />
    </Screen>
  );
}

function TakeRow({ take: t, text, trail }: { take: TakeInList; text: string; trail?: string }) {
  return (
    <Row
      href={`/takes/${t.id}`}
      lead={<Disc verdict={t.verdict ?? 'unjudged'} />}
      title={`${t.part_name}, take ${t.number}${t.circled ? ', circled' : ''}`}
      text={text}
      trail={trail ? <Mono>{trail}</Mono> : undefined}
    />
  );
}

function Group({ name, takes }: { name: string; takes: TakeInList[] }) {
  if (takes.length === 0) return null;
  return (
    <>
      <Heading style={{ paddingTop: 14 }}>{name}</Heading>
      {takes.map((t) => (
        <TakeRow
          key={t.id}
          take={t}
          text={t.verdict && t.verdict !== 'holds' && t.text ? t.text : takeLine(t)}
          trail={`setup ${t.setup_number}`}
        />
      ))}
    </>
  );
}
