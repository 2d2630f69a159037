import { useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { Dialog, Portal } from 'react-native-paper';
import { decidingMeasure } from '../../core/measures';
import { REQUIREMENT_KINDS } from '../../core/tricks/requirement-kinds';
import type { Requirement, RequirementKind, TrickPart } from '../../core/tricks/types';
import { Action } from '../components/action';
import { Soft } from '../components/words';
import { ChoiceField, NumberField, TextField } from '../forms/fields';

interface Props {
  parts: TrickPart[];
  taken: readonly string[];
  onAdd: (r: Requirement) => void;
  onClose: () => void;
}

/** Composes one requirement: what must be true, of which parts, how exactly, and what to do when it is not. */
export function RequirementDialog({ parts, taken, onAdd, onClose }: Props) {
  const [kind, setKind] = useState<RequirementKind>('locked');
  const [about, setAbout] = useState<string[]>([]);
  const [tolerance, setTolerance] = useState<number | null>(REQUIREMENT_KINDS.locked.tolerance!.usual);
  const [why, setWhy] = useState('');
  const [remedy, setRemedy] = useState('');
  const facts = REQUIREMENT_KINDS[kind];
  const key = `${kind}-${about.join('-')}`.slice(0, 120);
  const wrong =
    about.length < facts.parts
      ? `Choose ${facts.parts === 1 ? 'at least one part' : `at least ${facts.parts} parts`}.`
      : taken.includes(key)
        ? 'This requirement stands there already.'
        : null;
  return (
    <Portal>
      <Dialog visible onDismiss={onClose} style={styles.dialog}>
        <Dialog.Title>What must be true?</Dialog.Title>
        <Dialog.ScrollArea style={styles.area}>
          <ScrollView contentContainerStyle={styles.content}>
            <ChoiceField
              name="Requirement"
              value={kind}
              options={(Object.keys(REQUIREMENT_KINDS) as RequirementKind[]).map((k) => ({
                value: k,
                label: REQUIREMENT_KINDS[k].name,
              }))}
              onChange={(k) => {
                setKind(k);
                setTolerance(REQUIREMENT_KINDS[k].tolerance?.usual ?? null);
              }}
            />
            <Soft>
              {`${facts.says.replace('{n}', '…')}. Decided by: ` +
                `${!decidingMeasure(kind) ? 'eye, until its measure is built' : facts.measure}.`}
            </Soft>
            <ChoiceField
              name="Of these parts"
              value={about}
              options={parts.map((q) => ({ value: q.key, label: q.name }))}
              onChange={(k) => setAbout(about.includes(k) ? about.filter((x) => x !== k) : [...about, k])}
            />
            {facts.tolerance && (
              <NumberField
                label="Tolerance"
                unit={facts.tolerance.unit}
                value={tolerance}
                onChange={setTolerance}
                least={facts.tolerance.least}
                most={facts.tolerance.most}
              />
            )}
            <TextField label="Why it matters" value={why} onChange={setWhy} multiline />
            <TextField label="What to do on set when it fails" value={remedy} onChange={setRemedy} multiline />
            {wrong && <Soft>{wrong}</Soft>}
          </ScrollView>
        </Dialog.ScrollArea>
        <View style={styles.actions}>
          <Action quiet label="Cancel" onPress={onClose} style={styles.half} />
          <Action
            label="Add it"
            disabled={wrong !== null}
            style={styles.half}
            testID="add-requirement"
            onPress={() =>
              onAdd({
                key,
                kind,
                parts: about,
                tolerance: facts.tolerance ? tolerance : null,
                why: why.trim(),
                remedySet: remedy.trim(),
                remedyEdit: null,
              })
            }
          />
        </View>
      </Dialog>
    </Portal>
  );
}

const styles = StyleSheet.create({
  dialog: { maxWidth: 560, alignSelf: 'center', width: '94%', maxHeight: '90%' },
  area: { paddingHorizontal: 0, borderTopWidth: 0, borderBottomWidth: 0, flexShrink: 1 },
  content: { gap: 12, paddingHorizontal: 24, paddingBottom: 12 },
  actions: { flexDirection: 'row', gap: 12, paddingHorizontal: 24, paddingVertical: 16 },
  half: { flex: 1 },
});
