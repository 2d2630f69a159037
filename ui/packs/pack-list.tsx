import { View } from 'react-native';
import type { Pack } from '../../api/packs';
import { bytesInWords } from '../../core/base/numeric/bytes';
import { MenuButton } from '../components/menu-button';
import { Row } from '../components/row';
import { Progress } from '../components/states';
import { Heading, Soft } from '../components/words';
import { underWay } from '../data/hooks';
import { packZipAt, useDeletePack } from '../data/pack-hooks';
import { saveFile } from '../data/save-file';

/** What is in a pack, in a few words. */
function contentOf({ wish }: Pack): string {
  const parts = [wish.plates && 'plates', wish.mattes && 'mattes', wish.recordings && 'recordings'].filter(Boolean);
  return parts.length ? `with ${parts.join(', ')}` : 'pages and lists only';
}

const leftOut = (n: number) => (n === 0 ? '' : `${n === 1 ? 'One thing is' : `${n} things are`} not in it · `);

const whenOf = (iso: string) => new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** The packs that were made last, with what to do with each. */
export function PackList({ packs }: { packs: readonly Pack[] }) {
  const remove = useDeletePack();
  if (packs.length === 0) return null;
  return (
    <View>
      <Heading style={{ paddingTop: 18 }}>Packs</Heading>
      {packs.map((pack) => (
        <View key={pack.id} testID="pack">
          <Row
            href={pack.made ? `/hand-off/${pack.id}` : undefined}
            title={pack.of}
            text={
              pack.failure ??
              (pack.made
                ? `${leftOut(pack.made.left_behind.length)}${whenOf(pack.finished_at ?? pack.asked_at)} · ` +
                  `${bytesInWords(pack.made.bytes)}, ${pack.made.files} files, ` +
                  `${contentOf(pack)} · ${pack.made.hash}`
                : contentOf(pack))
            }
            trail={
              <MenuButton
                label={`More for the pack of ${pack.of}`}
                entries={[
                  ...(pack.made
                    ? [{ label: 'Save it', testID: 'save-pack', onPress: () => saveFile(packZipAt(pack.id)) }]
                    : []),
                  { label: 'Delete it', testID: 'delete-pack', onPress: () => remove.mutate(pack.id) },
                ]}
              />
            }
          />
          {underWay(pack) && (
            <Progress
              what={pack.state === 'working' ? pack.doing || 'beginning' : 'waiting for its turn'}
              done={pack.frames_done}
              total={pack.frames_total}
              unit="steps"
            />
          )}
        </View>
      ))}
      {remove.error && <Soft>{remove.error.message}</Soft>}
    </View>
  );
}
