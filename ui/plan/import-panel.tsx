import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { FileButton } from '../components/file-button';
import { Cautions } from '../components/notice';
import { Screen } from '../components/screen';
import { Failed } from '../components/states';
import { Body, Heading, Soft } from '../components/words';
import { useImport } from '../data/plan-hooks';
import type { ShootPage } from '../../api/boards';
import type { ImportPreview } from '../../api/plan';

/** Takes a shot list in: what it would change first, then all of it or nothing. */
export function ImportPanel({ shoot }: { shoot: ShootPage }) {
  const router = useRouter();
  const take = useImport(shoot.id);
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [preview, setPreview] = useState<ImportPreview | null>(null);
  const choose = async (chosen: File) => {
    const text = await chosen.text();
    setFile({ name: chosen.name, text });
    setPreview(null);
    take.mutate({ text, apply: false }, { onSuccess: setPreview });
  };
  const ready = preview && preview.errors.length === 0 && preview.changes.length > 0;
  return (
    <Screen
      where={`${shoot.name} / shot list`}
      title="Take a shot list in"
      action={
        <Action
          label={
            ready
              ? `Take in ${preview.changes.length} ${preview.changes.length === 1 ? 'change' : 'changes'}`
              : 'Back to the shoot'
          }
          disabled={take.isPending}
          testID="apply-import"
          onPress={() =>
            ready && file
              ? take.mutate(
                  { text: file.text, apply: true },
                  { onSuccess: () => router.replace(`/shoots/${shoot.id}`) },
                )
              : router.replace(`/shoots/${shoot.id}`)
          }
        />
      }
    >
      <Body>
        CSV or JSON, as this app writes it or as a spreadsheet saves it. You see what changes before anything is
        changed; nothing is removed.
      </Body>
      <View style={styles.pick}>
        <FileButton
          label={file ? 'Choose another file' : 'Choose a CSV or JSON file'}
          accept=".csv,.json,text/csv,application/json"
          onFile={(chosen) => void choose(chosen).catch(() => undefined)}
          testID="choose-list"
          fieldID="import-file"
        />
      </View>
      {take.error && <Failed error={take.error} />}
      {file && <Heading>{file.name}</Heading>}
      {preview && preview.errors.length > 0 && (
        <>
          <Cautions
            testID="import-errors"
            texts={preview.errors.map((e) => (e.line ? `Line ${e.line}: ${e.text}` : e.text))}
          />
          <Soft>Nothing is taken in while a line has an error. Mend the file and choose it again.</Soft>
        </>
      )}
      {preview && preview.errors.length === 0 && preview.changes.length === 0 && (
        <Body>The plan already says all of this; nothing would change.</Body>
      )}
      {preview && preview.changes.length > 0 && (
        <View testID="import-changes">
          <Heading style={styles.head}>{preview.errors.length ? 'Would change' : 'Will change'}</Heading>
          {preview.changes.map((c, i) => (
            <Body key={`${i}-${c.text}`}>{c.text}</Body>
          ))}
        </View>
      )}
    </Screen>
  );
}

const styles = StyleSheet.create({ pick: { paddingVertical: 14 }, head: { paddingTop: 12, paddingBottom: 4 } });
