import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import type { JudgedRequirement } from '../../core/gate/requirements';
import { decidingMeasure } from '../../core/measures';
import { REQUIREMENT_KINDS, statement } from '../../core/tricks/requirement-kinds';
import type { Requirement, Trick } from '../../core/tricks/types';
import { Action } from '../components/action';
import { Disc } from '../components/disc';
import { MenuButton } from '../components/menu-button';
import { Heading, Mono, Soft, Strong } from '../components/words';
import { NumberField } from '../forms/fields';
import { usePalette } from '../theme/theme';
import { RequirementDialog } from './requirement-dialog';

/** What must be true of a trick, each with its tolerance, why it matters and what helps. */
export function TrickRequirements({
  trick,
  judged,
  onChange,
}: {
  trick: Trick;
  judged: readonly JudgedRequirement[];
  onChange: (part: Partial<Trick>) => void;
}) {
  const p = usePalette();
  const [adding, setAdding] = useState(false);
  const put = (requirements: Requirement[]) => onChange({ requirements });
  return (
    <>
      <Heading style={styles.head}>Must be true</Heading>
      {trick.requirements.length === 0 && (
        <Soft>Nothing yet. Say what must hold so that the takes can be checked.</Soft>
      )}
      {trick.requirements.map((r) => {
        const facts = REQUIREMENT_KINDS[r.kind];
        const state = judged.find((j) => j.key === r.key);
        return (
          <View key={r.key} style={[styles.one, { borderBottomColor: p.line }]} testID={`requirement-${r.key}`}>
            <View style={styles.top}>
              <Disc verdict={state?.verdict ?? 'unjudged'} size={24} />
              <View style={styles.words}>
                <Strong>{facts.name}</Strong>
                <Mono>{r.parts.map((k) => trick.parts.find((q) => q.key === k)?.name ?? k).join(', ')}</Mono>
              </View>
              <MenuButton
                label={`More for ${facts.name}`}
                entries={[
                  { label: 'Take it out', onPress: () => put(trick.requirements.filter((o) => o.key !== r.key)) },
                ]}
              />
            </View>
            <Soft>
              {`${statement(r.kind, r.tolerance)}. ` +
                `${!decidingMeasure(r.kind) ? 'Checked by eye until its measure is built.' : `Decided by the ${facts.measure}.`}`}
            </Soft>
            {facts.tolerance && (
              <NumberField
                label="Tolerance"
                unit={facts.tolerance.unit}
                value={r.tolerance}
                least={facts.tolerance.least}
                most={facts.tolerance.most}
                testID={`tolerance-${r.key}`}
                onChange={(tolerance) =>
                  put(trick.requirements.map((o) => (o.key === r.key ? { ...o, tolerance } : o)))
                }
              />
            )}
            {r.why ? <Soft>{r.why}</Soft> : null}
            {r.remedySet ? <Soft>{`On set: ${r.remedySet}`}</Soft> : null}
            {r.remedyEdit ? <Soft>{`In the edit: ${r.remedyEdit}`}</Soft> : null}
          </View>
        );
      })}
      <Action
        quiet
        label="Add a requirement"
        icon="plus"
        onPress={() => setAdding(true)}
        style={styles.add}
        testID="new-requirement"
      />
      {adding && (
        <RequirementDialog
          parts={trick.parts}
          taken={trick.requirements.map((r) => r.key)}
          onClose={() => setAdding(false)}
          onAdd={(r) => {
            put([...trick.requirements, r]);
            setAdding(false);
          }}
        />
      )}
    </>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 16, paddingBottom: 4 },
  one: { gap: 4, paddingVertical: 10, borderBottomWidth: 1 },
  top: { flexDirection: 'row', gap: 10, alignItems: 'center' },
  words: { flex: 1, minWidth: 0 },
  add: { marginTop: 12 },
});
