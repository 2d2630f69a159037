import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { judgeMeter } from '../../core/judge/meter';
import type { TakeReport } from '../../core/report/types';
import { Action } from '../components/action';
import { Body, Heading, Mono, Soft, Strong } from '../components/words';
import { useKeepMeter } from '../data/plate-hooks';
import type { Take } from '../../api/takes';
import { FormDialog } from '../forms/form-dialog';
import { usePalette } from '../theme/theme';

const SHOWN = 6;

/** A light meter's readings beside what the picture shows: did the light change, or the camera? */
export function MeterCard({ take, report, frame }: { take: Take; report: TakeReport; frame: number }) {
  const p = usePalette();
  const keep = useKeepMeter(take.id);
  const [adding, setAdding] = useState(false);
  const readings = take.meter ?? [];
  const found = judgeMeter(readings, report.light.path.stops);
  const step = Math.max(1, Math.ceil(readings.length / SHOWN));
  return (
    <View style={[styles.card, { backgroundColor: p.card, borderColor: p.line }]} testID="meter-card">
      <Heading>Light meter</Heading>
      {found && <Body>{found.text}</Body>}
      {found?.fix && <Strong>{found.fix}</Strong>}
      {readings.length === 1 && (
        <Body>
          {`${readings[0].ev.toFixed(2)} EV at frame ${readings[0].frame}. A second reading tells whether ` +
            `the light or the camera changed.`}
        </Body>
      )}
      {readings.length === 0 && (
        <Soft>
          No reading is kept with this take. Two readings tell whether the light on the set changed or the camera
          changed by itself.
        </Soft>
      )}
      {readings.length > 1 && (
        <Mono>
          {readings
            .filter((_, i) => i % step === 0)
            .map((r) => `${r.frame}: ${r.ev.toFixed(2)} EV`)
            .join(' · ')}
        </Mono>
      )}
      <Action
        quiet
        icon="plus"
        label={`Note a reading at frame ${frame}`}
        onPress={() => setAdding(true)}
        testID="add-reading"
      />
      <FormDialog
        visible={adding}
        title={`Reading at frame ${frame}`}
        submit="Keep it"
        busy={keep.isPending}
        error={keep.error}
        onClose={() => setAdding(false)}
        text="Exposure value at ISO 100."
        fields={[{ key: 'ev', label: 'Exposure value, EV', numeric: true, required: true }]}
        onSubmit={(v) =>
          keep.mutate([...readings.filter((r) => r.frame !== frame), { frame, ev: Number(v.ev.replace(',', '.')) }], {
            onSuccess: () => setAdding(false),
          })
        }
      />
    </View>
  );
}

const styles = StyleSheet.create({ card: { borderWidth: 1.5, borderRadius: 4, padding: 16, gap: 8 } });
