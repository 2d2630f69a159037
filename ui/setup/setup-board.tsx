import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { Disc } from '../components/disc';
import { Row } from '../components/row';
import { Screen, useWide } from '../components/screen';
import { Progress } from '../components/states';
import { Body, Heading, Mono, Soft } from '../components/words';
import { useNewPart } from '../data/hooks';
import type { PartWithTakes, SetupPage } from '../../api/boards';
import { FormDialog } from '../forms/form-dialog';
import { usePalette } from '../theme/theme';
import { RateCard } from './rate-card';
import { FoldedRequirements, OpenRequirements } from './requirement-rows';
import { SetupLinks } from './setup-links';
import { takeLine } from './take-line';

/** The gate of a setup: whether it may be struck, and its parts with their takes. */
export function SetupBoardView({ setup }: { setup: SetupPage }) {
  const p = usePalette();
  const router = useRouter();
  const wide = useWide();
  const addPart = useNewPart(setup.id);
  const [adding, setAdding] = useState(false);
  const { gate } = setup;
  const roll = (partId: string) => router.push(`/setups/${setup.id}/roll?part=${partId}`);
  const next = gate.rollNext;
  const action = next ? (
    <Action
      label={next.again ? `Roll ${next.name} again` : `Roll ${next.name}`}
      onPress={() => roll(next.partId)}
      testID="roll-next"
    />
  ) : setup.parts[0] ? (
    <Action label="Roll another take" quiet onPress={() => roll(setup.parts[0].id)} testID="roll-next" />
  ) : (
    <Action label="Add a part" onPress={() => setAdding(true)} />
  );
  return (
    <Screen
      where={`${setup.shoot.name} / setup ${setup.number}`}
      title={setup.name}
      sign={<Disc verdict={gate.verdict} size={44} />}
      action={action}
      full={wide}
    >
      <View style={[styles.all, wide && styles.wide]}>
        <View style={wide ? styles.left : undefined}>
          <View testID="gate" style={[styles.gate, { backgroundColor: p.card, borderColor: p[gate.verdict] }]}>
            <Heading style={styles.headline}>{gate.headline}</Heading>
            {gate.detail ? <Body>{gate.detail}</Body> : null}
          </View>
          <OpenRequirements setupId={setup.id} gate={gate} />
          <SetupLinks setup={setup} />
          {wide && <FoldedRequirements setupId={setup.id} gate={gate} />}
          {wide && <RateCard rates={setup.rates} />}
        </View>
        <View style={wide ? styles.right : undefined}>
          {setup.parts.map((part) => (
            <PartRows key={part.id} setup={setup} part={part} />
          ))}
          <Action quiet label="Add a part" icon="plus" onPress={() => setAdding(true)} style={styles.add} />
          {!wide && <FoldedRequirements setupId={setup.id} gate={gate} />}
          {!wide && <RateCard rates={setup.rates} />}
          {setup.notes ? <Soft style={styles.notes}>{setup.notes}</Soft> : null}
        </View>
      </View>
      <FormDialog
        visible={adding}
        title="Add a part"
        submit="Add it"
        busy={addPart.isPending}
        error={addPart.error}
        onClose={() => setAdding(false)}
        fields={[
          { key: 'name', label: 'Part, such as: Plate', required: true },
          { key: 'what', label: 'What to record' },
        ]}
        onSubmit={(v) => addPart.mutate({ name: v.name, what: v.what }, { onSuccess: () => setAdding(false) })}
      />
    </Screen>
  );
}

function PartRows({ setup, part }: { setup: SetupPage; part: PartWithTakes }) {
  const row = setup.gate.rows.find((r) => r.partId === part.id);
  const rolls = setup.rolls.filter((r) => r.part_id === part.id);
  return (
    <View style={styles.part} testID={`part-${part.name}`}>
      <View style={styles.partHead}>
        <Heading style={styles.partName}>{part.name}</Heading>
        <Mono>
          {part.takes.length === 0
            ? rolls.length
              ? ''
              : 'not rolled'
            : `${part.takes.length} ${part.takes.length === 1 ? 'take' : 'takes'}`}
        </Mono>
      </View>
      {part.what ? <Soft>{part.what}</Soft> : null}
      {part.for && part.takes.length > 0 ? <Soft>{`Judged as ${part.judged_for}.`}</Soft> : null}
      {rolls.map((r) => (
        <Progress
          key={r.id}
          what={r.state === 'waiting' ? 'waiting to roll' : 'recording'}
          done={r.frames_done}
          total={r.state === 'waiting' ? 0 : r.frames_total}
          unit="frames"
        />
      ))}
      {[...part.takes].reverse().map((t) => (
        <View key={t.id}>
          <Row
            href={`/takes/${t.id}`}
            lead={<Disc verdict={t.verdict ?? 'unjudged'} />}
            title={`Take ${t.number}${t.circled ? ', circled' : ''}`}
            text={t.verdict && t.verdict !== 'holds' && t.text ? t.text : takeLine(t)}
            selected={row?.takeId === t.id && part.takes.length > 1}
            testID={`take-${part.name}-${t.number}`}
          />
          {t.state === 'working' && (
            <Progress what={t.doing || 'measuring'} done={t.frames_done} total={t.frames_total} unit="frames" />
          )}
        </View>
      ))}
      {part.takes.length === 0 && rolls.length === 0 && (
        <Row
          href={`/setups/${setup.id}/roll?part=${part.id}`}
          lead={<Disc verdict="unjudged" />}
          title="Not rolled yet"
          text={
            row?.text === 'belongs to the other place'
              ? 'Belongs to the other place; this setup does not wait for it'
              : 'Roll it, or add the file from the card'
          }
        />
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 14 },
  wide: { flexDirection: 'row', alignItems: 'flex-start', gap: 28 },
  left: { flex: 4, minWidth: 0, gap: 14 },
  right: { flex: 6, minWidth: 0 },
  gate: { borderWidth: 1.5, borderRadius: 4, padding: 16, gap: 8 },
  headline: { fontSize: 20, lineHeight: 25 },
  notes: { paddingTop: 12 },
  part: { paddingTop: 12 },
  partHead: { flexDirection: 'row', alignItems: 'baseline', justifyContent: 'space-between' },
  partName: { flex: 1 },
  add: { marginTop: 18 },
});
