import { useState } from 'react';
import { Image, Linking, StyleSheet, View } from 'react-native';
import type { PackedFile } from '../../api/packs';
import { bytesInWords } from '../../core/base/numeric/bytes';
import { Action } from '../components/action';
import { Cautions } from '../components/notice';
import { Row } from '../components/row';
import { Screen } from '../components/screen';
import { Failed, Loading, Progress } from '../components/states';
import { ToolButton } from '../components/tool-button';
import { Body, Heading, Mono, Soft } from '../components/words';
import { underWay } from '../data/hooks';
import { packFileAt, packZipAt, usePack, usePackFiles } from '../data/pack-hooks';
import { saveFile } from '../data/save-file';

/** The folders of a pack, in the order in which one would open them. */
const FOLDERS: [string, string][] = [
  ['', 'To begin with'],
  ['tricks', 'A page for each trick'],
  ['plates', 'Plates'],
  ['stills', 'Stills and cut-outs'],
  ['masks', 'Masks'],
  ['mattes', 'Rough mattes'],
  ['timelines', 'Timelines'],
  ['lists', 'Edit decision lists'],
  ['lines', 'Lines and zones'],
  ['edges', 'Moving edges'],
  ['marks', 'Marks'],
  ['camera', 'Camera paths'],
  ['recordings', 'Recordings'],
  ['ascmhl', 'Hashes'],
];

const folderOf = ({ path }: PackedFile) => (path.includes('/') ? path.slice(0, path.indexOf('/')) : '');
const isPicture = ({ path }: PackedFile) => path.endsWith('.png') || path.endsWith('.svg');

/** A pack looked into: its pages and pictures, before it is sent. */
export function PackView({ id }: { id: string }) {
  const pack = usePack(id);
  const made = pack.data?.made ?? null;
  const files = usePackFiles(id, made !== null);
  return (
    <Screen
      where="Hand off"
      title={pack.data?.of ?? 'Pack'}
      action={
        made && (
          <Action
            label={`Save ${made.name}.zip, ${bytesInWords(made.bytes)}`}
            icon="tray-arrow-down"
            onPress={() => saveFile(packZipAt(id))}
            testID="save-pack"
          />
        )
      }
    >
      {pack.isPending && <Loading what="the pack" />}
      {pack.error && !pack.data && <Failed error={pack.error} onAgain={pack.refetch} />}
      {pack.data?.failure && <Body>{pack.data.failure}</Body>}
      {pack.data && underWay(pack.data) && (
        <Progress what={pack.data.doing} done={pack.data.frames_done} total={pack.data.frames_total} unit="steps" />
      )}
      {made && (
        <Cautions
          testID="left-behind"
          texts={[
            ...made.left_behind.map((text) => `Not in this pack. ${text}`),
            ...made.unmeasured.map((text) => `Nothing is known of this recording. ${text}`),
          ]}
        />
      )}
      {made && (
        <View style={styles.first}>
          <Soft>{`${made.files} files; the list of their hashes is known by`}</Soft>
          <Mono>{made.hash}</Mono>
          <View style={styles.open}>
            <Action
              quiet
              label="Read its first page"
              icon="open-in-new"
              onPress={() => void Linking.openURL(packFileAt(id, 'README.html'))}
              testID="read-pack"
            />
          </View>
        </View>
      )}
      {FOLDERS.map(([folder, name]) => {
        const own = files.data?.filter((f) => folderOf(f) === folder) ?? [];
        return own.length ? <Folder key={folder} name={name} id={id} files={own} /> : null;
      })}
    </Screen>
  );
}

function Folder({ id, name, files }: { id: string; name: string; files: PackedFile[] }) {
  const [shown, setShown] = useState<string | null>(null);
  return (
    <View>
      <Heading style={{ paddingTop: 14 }}>{name}</Heading>
      {files.map((f) => (
        <View key={f.path}>
          <View style={styles.row}>
            <View style={styles.words}>
              <Row title={f.path.replace(/^.*\//, '')} text={bytesInWords(f.bytes)} />
            </View>
            {isPicture(f) && (
              <ToolButton
                icon={shown === f.path ? 'eye-off-outline' : 'eye-outline'}
                label={`${shown === f.path ? 'Hide' : 'Look at'} ${f.path}`}
                on={shown === f.path}
                onPress={() => setShown(shown === f.path ? null : f.path)}
              />
            )}
            <ToolButton
              icon="open-in-new"
              label={`Open ${f.path}`}
              onPress={() => void Linking.openURL(packFileAt(id, f.path))}
            />
          </View>
          {shown === f.path && (
            <Image
              source={{ uri: packFileAt(id, f.path) }}
              accessibilityLabel={f.path}
              style={styles.picture}
              resizeMode="contain"
            />
          )}
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  first: { gap: 4, paddingBottom: 4 },
  open: { paddingTop: 8 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 4 },
  words: { flex: 1, minWidth: 0 },
  picture: { width: '100%', aspectRatio: 16 / 9, backgroundColor: '#808080' },
});
