import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { SegmentedButtons } from 'react-native-paper';
import type { TakenInPack } from '../../api/packs';
import { bytesInWords } from '../../core/base/numeric/bytes';
import type { Differing, TakeInChange } from '../../core/packs/take-in';
import { Action } from '../components/action';
import { FileButton } from '../components/file-button';
import { Cautions } from '../components/notice';
import { Screen } from '../components/screen';
import { Failed, Loading, Progress } from '../components/states';
import { Body, Heading, Soft } from '../components/words';
import { useTakeIn } from '../data/pack-hooks';
import { sendFile } from '../data/send-file';

const MB = 1e6;
const GROUPS: [TakeInChange['kind'], string, string][] = [
  ['new', 'Comes in', 'Came in'],
  ['numbered', 'Gets another number', 'Got another number'],
  ['differs', 'Says something else here', 'Said something else here'],
  ['left-out', 'Is left out', 'Was left out'],
];

interface Sent {
  name: string;
  sent: number;
  total: number;
  paused: boolean;
  error: string | null;
  /** Its id there, once it has arrived. */
  id: string | null;
}

/** Takes a pack in: what it would bring and change first, then all of it or nothing. */
export function TakeInView() {
  const router = useRouter();
  const take = useTakeIn();
  const [file, setFile] = useState<Sent | null>(null);
  const [differing, setDiffering] = useState<Differing>('keep');
  const [seen, setSeen] = useState<TakenInPack | null>(null);
  const look = (id: string, how: Differing) =>
    take.mutate({ upload_id: id, apply: false, differing: how }, { onSuccess: setSeen });
  const choose = (chosen: File) => {
    const patch = (more: Partial<Sent>) => setFile((f) => f && { ...f, ...more });
    setSeen(null);
    take.reset();
    const empty = chosen.size === 0 ? `"${chosen.name}" is empty. Copy it again from where it was saved.` : null;
    setFile({ name: chosen.name, sent: 0, total: chosen.size, paused: false, error: empty, id: null });
    if (empty) return;
    sendFile(chosen, {
      onProgress: (sent, total) => patch({ sent, total, paused: false }),
      onPause: () => patch({ paused: true }),
      onError: (error) => patch({ error, paused: false }),
      onDone: (id) => {
        patch({ id });
        look(id, differing);
      },
    });
  };
  const differs = seen?.changes.some((c) => c.kind === 'differs') ?? false;
  const writes = seen?.changes.some((c) => c.kind === 'new') || (differs && differing === 'take');
  const ready = seen && !seen.applied && seen.errors.length === 0 && writes;
  // A shoot that is left out whole is not here.
  const isHere = seen?.changes.every((c) => c.kind !== 'new');
  const toShoot = seen?.shoot && seen.errors.length === 0 && (seen.applied || isHere);
  const act = () => {
    if (ready && file?.id) take.mutate({ upload_id: file.id, apply: true, differing }, { onSuccess: setSeen });
    else router.replace(toShoot ? `/shoots/${seen.shoot!.id}` : '/');
  };
  return (
    <Screen
      where="Plan"
      title="Take a pack in"
      action={
        <Action
          label={ready ? `Take in “${seen.shoot?.name}”` : toShoot ? `To “${seen.shoot?.name}”` : 'Back to the shoots'}
          disabled={take.isPending || (file !== null && file.id === null && file.error === null)}
          testID="apply-take-in"
          onPress={act}
        />
      }
    >
      <Body>
        A pack as this app saves it, of this machine or another: the ZIP, or the shoot.json out of it. You see what it
        brings before anything is changed; nothing is removed. What was found in takes is measured again here.
      </Body>
      <View style={styles.pick}>
        <FileButton
          label={file ? 'Choose another file' : 'Choose a pack'}
          accept=".zip,.json,application/zip,application/json"
          disabled={take.isPending}
          onFile={choose}
          testID="choose-pack"
          fieldID="pack-file"
        />
      </View>
      {file && <Heading>{file.name}</Heading>}
      {file?.error && <Cautions texts={[file.error]} testID="send-error" />}
      {file && !file.error && !file.id && (
        <Progress
          what={file.paused ? 'the connection dropped; trying again' : 'sending'}
          done={Math.round(file.sent / MB)}
          total={Math.max(1, Math.round(file.total / MB))}
          unit="MB"
        />
      )}
      {take.isPending && file?.id && <Loading what={ready ? 'its recordings and its plan into place' : 'the pack'} />}
      {take.error && <Failed error={take.error} />}
      {seen && seen.errors.length > 0 && (
        <>
          <Cautions
            testID="take-in-errors"
            texts={seen.errors.map((e) => (e.line ? `Line ${e.line}: ${e.text}` : e.text))}
          />
          <Soft>Nothing is taken in while a line has an error. Mend shoot.json and choose it again.</Soft>
        </>
      )}
      {seen && seen.errors.length === 0 && <Seen seen={seen} />}
      {differs && !seen?.applied && (
        <View style={styles.pick}>
          <SegmentedButtons
            value={differing}
            onValueChange={(value) => {
              setDiffering(value as Differing);
              if (file?.id) look(file.id, value as Differing);
            }}
            buttons={[
              { value: 'keep', label: 'Keep mine', testID: 'differing-keep' },
              { value: 'take', label: 'Take the pack’s', testID: 'differing-take' },
            ]}
          />
        </View>
      )}
    </Screen>
  );
}

function Seen({ seen }: { seen: TakenInPack }) {
  const { changes, recordings, applied, shoot } = seen;
  if (changes.length === 0)
    return (
      <Body>
        {applied ? `“${shoot?.name}” is taken in.` : `All of “${shoot?.name}” is here already; nothing would change.`}
      </Body>
    );
  return (
    <View testID="take-in-changes">
      {GROUPS.map(([kind, before, after]) => {
        const own = changes.filter((c) => c.kind === kind);
        if (own.length === 0) return null;
        return (
          <View key={kind}>
            <Heading style={styles.head}>{applied ? after : before}</Heading>
            {own.map((c, i) => (
              <Body key={`${i}-${c.text}`} style={styles.line}>
                {c.text.charAt(0).toUpperCase() + c.text.slice(1)}
              </Body>
            ))}
          </View>
        );
      })}
      {recordings.count > 0 && (
        <Soft>
          {`${recordings.count} ${recordings.count === 1 ? 'recording' : 'recordings'}, ${bytesInWords(recordings.bytes)}`}
        </Soft>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  pick: { paddingVertical: 14 },
  head: { paddingTop: 12, paddingBottom: 4 },
  line: { paddingBottom: 4 },
});
