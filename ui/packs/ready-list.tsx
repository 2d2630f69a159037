import { StyleSheet, View } from 'react-native';
import type { HandOff, TrickToHandOff } from '../../api/packs';
import type { Missing } from '../../core/packs/types';
import { timeWords } from '../../core/packs/steps';
import { Disc } from '../components/disc';
import { Row } from '../components/row';
import { ToolButton } from '../components/tool-button';
import { Body, Heading, Mono, Soft } from '../components/words';

const BY: Record<Missing['by'], string> = {
  set: 'On set, while it stands',
  bench: 'At the bench',
  choice: 'To be chosen',
};

const ORDER: Missing['by'][] = ['set', 'bench', 'choice'];

/** What is missing before it goes, by who can mend it. */
export function MissingList({ setups }: Pick<HandOff, 'setups'>) {
  const all = setups.flatMap((s) => [...s.missing, ...s.tricks.flatMap((t) => t.missing)].map((m) => ({ ...m, s })));
  if (all.length === 0) return <Body>Nothing is missing: every trick has its takes, judged and circled.</Body>;
  return (
    <View testID="missing">
      {ORDER.map((by) => {
        const own = all.filter((m) => m.by === by);
        if (own.length === 0) return null;
        return (
          <View key={by}>
            <Heading heading={3} style={{ paddingTop: 8 }}>{`${BY[by]}: ${own.length}`}</Heading>
            {own.map((m, i) => (
              <Row
                key={i}
                href={`/setups/${m.s.id}/gate`}
                title={`Setup ${m.setup}${m.trick ? `, ${m.trick}` : ''}`}
                text={`${m.text} ${m.fix}`}
              />
            ))}
          </View>
        );
      })}
    </View>
  );
}

interface ReadyProps extends Pick<HandOff, 'setups'> {
  /** The setup or trick that the next pack is of; the whole shoot where neither. */
  chosen: { setup_id: string | null; planned_id: string | null };
  onChoose: (chosen: ReadyProps['chosen']) => void;
}

/** All tricks of a shoot, what each is worth, and which of them the pack is to be of. */
export function ReadyList({ setups, chosen, onChoose }: ReadyProps) {
  const all = !chosen.setup_id && !chosen.planned_id;
  return (
    <View>
      <View style={styles.head}>
        <Heading style={styles.words}>The whole shoot</Heading>
        <ToolButton
          icon={all ? 'radiobox-marked' : 'radiobox-blank'}
          label="A pack of the whole shoot"
          on={all}
          testID="choose-all"
          onPress={() => onChoose({ setup_id: null, planned_id: null })}
        />
      </View>
      {setups.map((s) => {
        const whole = chosen.setup_id === s.id && !chosen.planned_id;
        return (
          <View key={s.id}>
            <View style={styles.head}>
              <Heading style={styles.words}>{`Setup ${s.number}, ${s.name}`}</Heading>
              <ToolButton
                icon={whole ? 'radiobox-marked' : 'radiobox-blank'}
                label={`A pack of setup ${s.number} alone`}
                on={whole}
                testID={`choose-setup-${s.number}`}
                onPress={() => onChoose({ setup_id: whole ? null : s.id, planned_id: null })}
              />
            </View>
            {s.tricks.map((t) => (
              <TrickRow
                key={t.id}
                trick={t}
                chosen={chosen.planned_id === t.id}
                onChoose={(on) => onChoose({ setup_id: on ? s.id : null, planned_id: on ? t.id : null })}
              />
            ))}
          </View>
        );
      })}
    </View>
  );
}

function TrickRow({
  trick: t,
  chosen,
  onChoose,
}: {
  trick: TrickToHandOff;
  chosen: boolean;
  onChoose: (on: boolean) => void;
}) {
  const n = t.missing.length;
  return (
    <View style={styles.row}>
      <View style={styles.words}>
        <Row
          href={`/planned/${t.id}`}
          lead={<Disc verdict={t.verdict} />}
          title={t.name}
          text={[t.takes === 1 ? '1 take' : `${t.takes} takes`, n ? `${n} missing` : 'ready'].join(', ')}
          trail={t.minutes ? <Mono>{timeWords(t.minutes)}</Mono> : <Soft>—</Soft>}
          selected={chosen}
        />
      </View>
      <ToolButton
        icon={chosen ? 'radiobox-marked' : 'radiobox-blank'}
        label={`A pack of ${t.name} alone`}
        on={chosen}
        testID={`choose-${t.name}`}
        onPress={() => onChoose(!chosen)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingTop: 14 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  words: { flex: 1, minWidth: 0 },
});
