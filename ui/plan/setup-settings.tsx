import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import { StyleSheet, View } from 'react-native';
import type { CameraNotes, Contradiction, Delivery } from '../../core/plan/types';
import { findContradictions } from '../../core/plan/contradictions';
import { Action } from '../components/action';
import { ChangedMeanwhile, versionToSend } from '../components/changed-meanwhile';
import { Contradictions } from '../components/notice';
import { Failed } from '../components/states';
import { Heading, Soft } from '../components/words';
import { ChangedHere } from '../data/client';
import { useChangeSetup } from '../data/plan-hooks';
import type { SetupPage } from '../../api/boards';
import { FieldGrid, NumberField, TextField } from '../forms/fields';

interface Values {
  name: string;
  place: string;
  notes: string;
  camera: CameraNotes;
}

const NUMBERS = [
  ['width', 'Picture width', 'px', 16, 16384],
  ['height', 'Picture height', 'px', 16, 16384],
  ['fps', 'Rate', 'fps', 1, 1000],
  ['iso', 'ISO', '', 1, 1e7],
  ['white_k', 'White', 'K', 1000, 40000],
  ['focal_mm', 'Focal length', 'mm', 1, 5000],
  ['focus_m', 'Focus', 'm', 0.01, 100000],
  ['height_m', 'Lens over ground', 'm', -100, 10000],
  ['tilt_deg', 'Tilt, up is +', '°', -180, 180],
] as const;

/** What is set by hand at this setup; contradictions with its tricks show while one types. */
export function SetupSettings({ setup, onDone }: { setup: SetupPage; onDone: () => void }) {
  const change = useChangeSetup(setup.id);
  const [seen] = useState(setup.version);
  const again = change.error instanceof ChangedHere ? change.error : null;
  const { control, handleSubmit, watch, formState } = useForm<Values>({
    defaultValues: { name: setup.name, place: setup.place, notes: setup.notes, camera: setup.camera },
  });
  const delivery: Delivery = {
    width: setup.shoot.delivery_width,
    height: setup.shoot.delivery_height,
    fps: setup.shoot.delivery_fps,
  };
  const found: Contradiction[] = findContradictions({ ...setup.camera, ...watch('camera') }, delivery, setup.planned);
  return (
    <View style={styles.form} testID="settings-form">
      <Contradictions found={found} />
      <FieldGrid>
        <Controller
          control={control}
          name="name"
          rules={{ required: true }}
          render={({ field }) => (
            <TextField label="Name" value={field.value} onChange={field.onChange} testID="setting-name" />
          )}
        />
        <Controller
          control={control}
          name="place"
          render={({ field }) => <TextField label="Place" value={field.value} onChange={field.onChange} />}
        />
        <Controller
          control={control}
          name="camera.camera"
          render={({ field }) => <TextField label="Camera" value={field.value} onChange={field.onChange} />}
        />
        <Controller
          control={control}
          name="camera.lens"
          render={({ field }) => <TextField label="Lens" value={field.value} onChange={field.onChange} />}
        />
      </FieldGrid>
      <Heading heading={3}>Locked by hand</Heading>
      <FieldGrid>
        {NUMBERS.map(([key, label, unit, least, most]) => (
          <Controller
            key={key}
            control={control}
            name={`camera.${key}`}
            render={({ field }) => (
              <NumberField
                label={label}
                unit={unit}
                value={field.value}
                onChange={field.onChange}
                least={least}
                most={most}
                testID={`setting-${key}`}
              />
            )}
          />
        ))}
        <Controller
          control={control}
          name="camera.shutter_s"
          render={({ field }) => (
            <NumberField
              label="Shutter: one over"
              unit="1/s"
              value={field.value === null ? null : 1 / field.value}
              least={0.02}
              most={32000}
              testID="setting-shutter"
              onChange={(v) => field.onChange(v === null ? null : 1 / v)}
            />
          )}
        />
      </FieldGrid>
      <Controller
        control={control}
        name="notes"
        render={({ field }) => <TextField label="Notes" value={field.value} onChange={field.onChange} multiline />}
      />
      <Soft>What is left empty is taken as not known yet.</Soft>
      {again && <ChangedMeanwhile here={again.here} yours={again.yours} text={again.message} />}
      {change.error && !again && <Failed error={change.error} />}
      <View style={styles.actions}>
        <Action quiet label={again ? 'Keep theirs' : 'Cancel'} onPress={onDone} style={styles.half} />
        <Action
          label={again ? 'Save mine over it' : 'Save'}
          disabled={change.isPending || !formState.isValid}
          testID="save-settings"
          style={styles.half}
          onPress={handleSubmit((values) =>
            change.mutate({ ...values, seen: versionToSend(change.error, seen) }, { onSuccess: onDone }),
          )}
        />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  form: { gap: 12, paddingVertical: 8 },
  actions: { flexDirection: 'row', gap: 12 },
  half: { flex: 1 },
});
