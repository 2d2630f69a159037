import { MaterialCommunityIcons } from '@expo/vector-icons';
import { Pressable, View } from 'react-native';
import { Disc } from '../ui/components/disc';
import { Row } from '../ui/components/row';
import { Screen } from '../ui/components/screen';
import { Empty, Failed, Loading } from '../ui/components/states';
import { Soft } from '../ui/components/words';
import { useTakesToCheck } from '../ui/data/hooks';
import { saveFile } from '../ui/data/save-file';
import { TOUCH } from '../ui/theme/palette';
import { usePalette } from '../ui/theme/theme';

export default function HandOffScreen() {
  const p = usePalette();
  const takes = useTakesToCheck();
  const circled = (takes.data ?? []).filter((t) => t.circled && t.state === 'done');
  return (
    <Screen where="Hand off" title="Circled takes">
      {takes.isPending && <Loading what="the takes" />}
      {takes.error && !takes.data && <Failed error={takes.error} onAgain={takes.refetch} />}
      {takes.data && circled.length === 0 && (
        <Empty
          title="Nothing is circled yet"
          text={
            "Open a take and circle the one to use. Its report, with the camera's movement frame by frame, " +
            'can then be handed on from here.'
          }
        />
      )}
      {circled.length > 0 && (
        <Soft style={{ paddingBottom: 8 }}>
          For whoever draws the masks: the report of each circled take as JSON, with the camera’s path for every frame.
        </Soft>
      )}
      {circled.map((t) => (
        <View key={t.id} style={{ flexDirection: 'row', alignItems: 'center' }}>
          <View style={{ flex: 1, minWidth: 0 }}>
            <Row
              href={`/takes/${t.id}`}
              lead={<Disc verdict={t.verdict ?? 'unjudged'} />}
              title={`${t.part_name}, take ${t.number}`}
              text={`${t.shoot_name} / setup ${t.setup_number} · ${t.text ?? ''}`}
            />
          </View>
          <Pressable
            role="button"
            accessibilityLabel={`Save the report of ${t.part_name}, take ${t.number}`}
            testID="save-report"
            style={{ width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center' }}
            onPress={() => saveReport(t.id, `${t.shoot_name}-setup-${t.setup_number}-${t.part_name}-take-${t.number}`)}
          >
            <MaterialCommunityIcons name="tray-arrow-down" size={24} color={p.ink} />
          </Pressable>
        </View>
      ))}
    </Screen>
  );
}

function saveReport(takeId: string, name: string): void {
  saveFile(`/api/takes/${takeId}/report`, `${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.json`);
}
