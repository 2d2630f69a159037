import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Dialog, Portal } from 'react-native-paper';
import type { Trick } from '../../core/tricks/types';
import { Action } from '../components/action';
import { MenuButton } from '../components/menu-button';
import { Row } from '../components/row';
import { Heading } from '../components/words';
import { ChoiceField, TextField } from '../forms/fields';

const ALL = 'everybody';

/** The lines to read aloud on set. */
export function TrickScript({ trick, onChange }: { trick: Trick; onChange: (part: Partial<Trick>) => void }) {
  const [adding, setAdding] = useState(false);
  const nameOf = (key: string | null) =>
    key === null ? 'to everybody' : `for ${trick.parts.find((q) => q.key === key)?.name ?? key}`;
  return (
    <>
      <Heading style={styles.head}>Read aloud</Heading>
      {trick.script.map((line, i) => (
        <Row
          key={`${i}-${line.say}`}
          title={`“${line.say}”`}
          text={nameOf(line.part)}
          trail={
            <MenuButton
              label="More for this line"
              entries={[
                { label: 'Take it out', onPress: () => onChange({ script: trick.script.filter((_, k) => k !== i) }) },
              ]}
            />
          }
        />
      ))}
      <Action
        quiet
        label="Add a line"
        icon="plus"
        onPress={() => setAdding(true)}
        style={styles.add}
        testID="add-line"
      />
      {adding && (
        <LineDialog
          trick={trick}
          onClose={() => setAdding(false)}
          onAdd={(part, say) => {
            onChange({ script: [...trick.script, { part, say }] });
            setAdding(false);
          }}
        />
      )}
    </>
  );
}

function LineDialog({
  trick,
  onClose,
  onAdd,
}: {
  trick: Trick;
  onClose: () => void;
  onAdd: (part: string | null, say: string) => void;
}) {
  const [about, setAbout] = useState(ALL);
  const [say, setSay] = useState('');
  return (
    <Portal>
      <Dialog visible onDismiss={onClose} style={styles.dialog}>
        <Dialog.Title>A line to read aloud</Dialog.Title>
        <Dialog.Content style={styles.content}>
          <ChoiceField
            name="Said"
            value={about}
            options={[
              { value: ALL, label: 'To everybody' },
              ...trick.parts.map((q) => ({ value: q.key, label: q.name })),
            ]}
            onChange={setAbout}
          />
          <TextField label="What to say" value={say} onChange={setSay} multiline testID="line-text" />
          <View style={styles.actions}>
            <Action quiet label="Cancel" onPress={onClose} style={styles.half} />
            <Action
              label="Add it"
              disabled={!say.trim()}
              onPress={() => onAdd(about === ALL ? null : about, say.trim())}
              style={styles.half}
              testID="line-add"
            />
          </View>
        </Dialog.Content>
      </Dialog>
    </Portal>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 18, paddingBottom: 4 },
  add: { marginTop: 8 },
  dialog: { maxWidth: 480, alignSelf: 'center', width: '92%' },
  content: { gap: 12 },
  actions: { flexDirection: 'row', gap: 12 },
  half: { flex: 1 },
});
