import { MaterialCommunityIcons } from '@expo/vector-icons';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import type { Gate, GateTrick } from '../../core/judge/gate';
import { Disc } from '../components/disc';
import { Failed } from '../components/states';
import { Heading, Mono, Soft, Strong } from '../components/words';
import { usePerson } from '../data/person';
import { useEyeCheck } from '../data/plan-hooks';
import { FormDialog } from '../forms/form-dialog';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

type Judged = GateTrick['requirements'][number];

/** Every requirement of every trick of a setup, with its verdict; those no measure decides are ticked by a person. */
export function RequirementRows({ gate }: { gate: Gate }) {
  const check = useEyeCheck();
  const [person, setPerson] = usePerson();
  const [asking, setAsking] = useState<{ plannedId: string; key: string } | null>(null);
  const tick = (plannedId: string, r: Judged) => {
    if (r.eye) check.mutate({ plannedId, key: r.key, done: false, at: new Date().toISOString() });
    else if (person.trim())
      check.mutate({ plannedId, key: r.key, done: true, by: person.trim(), at: new Date().toISOString() });
    else setAsking({ plannedId, key: r.key });
  };
  return (
    <>
      {gate.tricks.map((t) => (
        <View key={t.id} testID={`judged-${t.name}`}>
          <Heading style={styles.head}>{t.name}</Heading>
          {t.requirements
            .filter((r) => r.applies)
            .map((r) => (
              <RequirementRow key={r.key} r={r} onTick={() => tick(t.id, r)} />
            ))}
        </View>
      ))}
      {check.error && <Failed error={check.error} />}
      <FormDialog
        visible={asking !== null}
        title="Who looked?"
        submit="Tick it"
        busy={check.isPending}
        error={check.error}
        onClose={() => setAsking(null)}
        text="Your name stands beside what you tick by eye, with the time."
        fields={[{ key: 'name', label: 'Your name', required: true }]}
        onSubmit={(v) => {
          setPerson(v.name.trim());
          if (asking)
            check.mutate(
              { ...asking, done: true, by: v.name.trim(), at: new Date().toISOString() },
              { onSuccess: () => setAsking(null) },
            );
        }}
      />
    </>
  );
}

function RequirementRow({ r, onTick }: { r: Judged; onTick: () => void }) {
  const p = usePalette();
  const mayTick = r.byEye;
  const when = r.eye
    ? new Date(r.eye.at).toLocaleString([], { day: '2-digit', month: '2-digit', hour: '2-digit', minute: '2-digit' })
    : '';
  return (
    <Pressable
      role={mayTick ? 'checkbox' : undefined}
      aria-checked={mayTick ? Boolean(r.eye) : undefined}
      disabled={!mayTick}
      onPress={onTick}
      testID={`judged-${r.key}`}
      accessibilityLabel={mayTick ? `${r.name}, ${r.partNames.join(', ')}: ${r.says}. Checked by eye` : undefined}
      style={[styles.row, { borderBottomColor: p.line }]}
    >
      <Disc verdict={r.verdict} size={26} />
      <View style={styles.words}>
        <Strong>{r.name}</Strong>
        <Mono>{r.partNames.join(', ')}</Mono>
        <Soft>
          {r.verdict === 'unjudged' && mayTick ? `${r.says}; ${r.text}` : when ? `${r.text}, ${when}` : r.text}
        </Soft>
        {r.fix && !r.byEye ? <Soft>{r.fix}</Soft> : null}
      </View>
      {mayTick && (
        <MaterialCommunityIcons
          name={r.eye ? 'checkbox-marked' : 'checkbox-blank-outline'}
          size={28}
          color={r.eye ? p.holds : p.soft}
        />
      )}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 20 },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    paddingVertical: 9,
    borderBottomWidth: 1,
    minHeight: TOUCH + 4,
  },
  words: { flex: 1, minWidth: 0 },
});
