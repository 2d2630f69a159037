import { StyleSheet, View } from 'react-native';
import type { PlannedPage } from '../../api/boards';
import { doubleRoom, roomInTakes } from '../../core/calculators/double-room';
import type { SumValues } from '../../core/calculators/kinds';
import { Action } from '../components/action';
import { Body } from '../components/words';
import { useReport, useSetup } from '../data/hooks';
import { useFoundMeasure } from '../data/measure-hooks';
import { usePalette } from '../theme/theme';

interface Props {
  planned: PlannedPage;
  values: SumValues;
  onUse: (values: SumValues) => void;
}

/** What the passes that were rolled say of the room for a double, put into the sum with one tap. */
export function RoomInTakes({ planned, values, onUse }: Props) {
  const p = usePalette();
  const setup = useSetup(planned.setup.id).data;
  const passes = planned.trick.parts.filter((part) => part.role === 'pass').map((part) => planned.parts[part.key]);
  const takes = passes.flatMap((id) => {
    const row = setup?.gate.rows.find((r) => r.partId === id);
    const take = setup?.parts.find((part) => part.id === id)?.takes.find((t) => t.id === row?.takeId);
    return take && row ? [{ ...take, label: `${row.name} ${take.number}` }] : [];
  });
  const [one, two] = takes;
  const pair = useFoundMeasure('pair', one && two ? [one.id, two.id] : null).data?.result ?? null;
  const n = (key: string) => Number(values[key]);
  const width = useReport(one?.id ?? '', Boolean(one)).data?.media.width ?? null;
  // A pair that an older version measured does not say how wide they are.
  if (!pair?.widest_px || !two || width === null) return null;
  const { field } = doubleRoom(n('distance'), n('focal'), n('sensor_width'), 0, 0, 1);
  const deliveryWidth = planned.shoot.delivery_width;
  const room = roomInTakes(pair, { field, width, deliveryWidth });
  if (!Number.isFinite(field) || (room.performer === null && room.feather === null)) return null;
  const rounded = room.performer === null ? null : Math.round(room.performer * 100) / 100;
  const said = [
    rounded !== null && `the wider one takes ${rounded} m, shadow included`,
    room.feather !== null && `between them a feather of ${room.feather} px fits`,
  ].filter(Boolean);
  return (
    <View style={[styles.box, { borderColor: p.line }]} testID="room-in-takes">
      <Body>{`In ${one.label} and ${two.label} ${said.join('; ')}.`}</Body>
      <Action
        quiet
        label="Use these numbers"
        onPress={() =>
          onUse({
            ...(rounded !== null && { performer: rounded }),
            ...(room.feather !== null && { feather: Math.min(4000, room.feather) }),
            delivery_width: deliveryWidth,
          })
        }
        testID="use-takes"
      />
    </View>
  );
}

const styles = StyleSheet.create({ box: { borderTopWidth: 1, paddingTop: 12, marginTop: 12, gap: 10 } });
