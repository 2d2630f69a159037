import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import type { ImportPreview } from '../../api/plan';
import { Action } from '../components/action';
import { FileButton } from '../components/file-button';
import { Failed } from '../components/states';
import { Body, Soft, Strong } from '../components/words';
import type { Marks } from '../data/mark-hooks';

/** Takes marks in from a file: what it changes first, then all of it or nothing. */
export function MarksIn({ does }: { does: Pick<Marks, 'takeIn'> }) {
  const { takeIn } = does;
  const [text, setText] = useState<string | null>(null);
  const [preview, setPreview] = useState<ImportPreview | null>(null);
  const choose = async (chosen: File) => {
    const own = await chosen.text();
    setText(own);
    setPreview(null);
    takeIn.mutate({ text: own, apply: false }, { onSuccess: setPreview });
  };
  const n = preview?.changes.length ?? 0;
  const ready = preview !== null && preview.errors.length === 0 && n > 0;
  return (
    <View style={styles.box}>
      <FileButton
        label="Take marks in from a file"
        accept=".csv,.vtt,text/csv,text/vtt"
        disabled={takeIn.isPending}
        onFile={(chosen) => void choose(chosen).catch(() => undefined)}
        testID="marks-in"
        fieldID="marks-file"
      />
      {takeIn.error && <Failed error={takeIn.error} />}
      {preview && !preview.applied && (
        <View testID="marks-preview">
          {preview.errors.map((e, i) => (
            <Body key={i}>{`Line ${e.line}: ${e.text}`}</Body>
          ))}
          {preview.errors.length > 0 && <Soft>Nothing is taken in until these are mended.</Soft>}
          {preview.errors.length === 0 && n === 0 && <Strong>Nothing changes: these marks are kept already.</Strong>}
          {preview.errors.length === 0 && preview.changes.map((c, i) => <Body key={i}>{c.text}</Body>)}
          {ready && (
            <Action
              label={`Take in ${n} ${n === 1 ? 'change' : 'changes'}`}
              onPress={() => text !== null && takeIn.mutate({ text, apply: true }, { onSuccess: setPreview })}
              testID="marks-apply"
            />
          )}
        </View>
      )}
      {preview?.applied && <Soft>{`${n} ${n === 1 ? 'change was' : 'changes were'} taken in.`}</Soft>}
    </View>
  );
}

const styles = StyleSheet.create({ box: { gap: 6, paddingTop: 8 } });
