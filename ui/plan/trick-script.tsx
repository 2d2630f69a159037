import { useState } from 'react';
import { StyleSheet } from 'react-native';
import type { Trick } from '../../core/tricks/types';
import { Action } from '../components/action';
import { MenuButton } from '../components/menu-button';
import { Row } from '../components/row';
import { Heading } from '../components/words';
import { FormDialog } from '../forms/form-dialog';

/** The lines to read aloud on set. */
export function TrickScript({ trick, onChange }: { trick: Trick; onChange: (part: Partial<Trick>) => void }) {
  const [about, setAbout] = useState<{ part: string | null } | null>(null);
  const nameOf = (key: string | null) => (key === null ? 'to everybody' : trick.parts.find((q) => q.key === key)?.name ?? key);
  return (
    <>
      <Heading style={styles.head}>Read aloud</Heading>
      {trick.script.map((line, i) => (
        <Row
          key={`${i}-${line.say}`} title={`“${line.say}”`} text={nameOf(line.part)}
          trail={<MenuButton label="More for this line" entries={[{ label: 'Take it out', onPress: () => onChange({ script: trick.script.filter((_, k) => k !== i) }) }]} />}
        />
      ))}
      {[null, ...trick.parts.map((q) => q.key)].map((part) => (
        <Action key={part ?? 'all'} quiet label={`Add a line ${part === null ? 'to everybody' : `for ${nameOf(part)}`}`} icon="plus" onPress={() => setAbout({ part })} style={styles.add} />
      ))}
      <FormDialog
        visible={about !== null} title={`A line ${about ? nameOf(about.part).replace(/^(?!to )/, 'for ') : ''}`} submit="Add it" busy={false} error={null} onClose={() => setAbout(null)}
        fields={[{ key: 'say', label: 'What to say', required: true, multiline: true }]}
        onSubmit={(v) => {
          if (about) onChange({ script: [...trick.script, { part: about.part, say: v.say.trim() }] });
          setAbout(null);
        }}
      />
    </>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 18, paddingBottom: 4 },
  add: { marginTop: 8 },
});
