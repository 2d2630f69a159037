import { useState } from 'react';
import { freshKey } from '../../core/plan/check-trick';
import { Action } from '../components/action';
import { MenuButton } from '../components/menu-button';
import { Row } from '../components/row';
import { Screen } from '../components/screen';
import { Failed, Loading } from '../components/states';
import { Mono, Soft } from '../components/words';
import { useDropSensor, usePutSensor, useSensors } from '../data/plan-hooks';
import type { SensorInTable } from '../../api/plan';
import { FormDialog } from '../forms/form-dialog';

/** Sensors and formats: those that ship, changed ones, and one's own. */
export function SensorTable() {
  const sensors = useSensors();
  const put = usePutSensor();
  const drop = useDropSensor();
  const [form, setForm] = useState<SensorInTable | 'new' | null>(null);
  const edited = form === 'new' ? null : form;
  return (
    <Screen
      where="Sums"
      title="Sensors and formats"
      action={<Action label="Add a sensor" icon="plus" onPress={() => setForm('new')} testID="new-sensor" />}
    >
      <Soft>
        The area that makes the picture. A camera that crops in some mode has a smaller one there: add it under its own
        name.
      </Soft>
      {sensors.isPending && <Loading what="the sensors" />}
      {sensors.error && <Failed error={sensors.error} onAgain={sensors.refetch} />}
      {sensors.data?.map((s) => (
        <Row
          key={s.key}
          title={s.name}
          text={s.built_in ? (s.changed ? 'changed by hand' : undefined) : 'added by hand'}
          trail={
            <>
              <Mono>{`${s.width_mm} × ${s.height_mm} mm`}</Mono>
              <MenuButton
                label={`More for ${s.name}`}
                entries={[
                  { label: 'Change it', onPress: () => setForm(s) },
                  ...(s.changed
                    ? [{ label: s.built_in ? 'Put the usual size back' : 'Delete', onPress: () => drop.mutate(s.key) }]
                    : []),
                ]}
              />
            </>
          }
        />
      ))}
      <FormDialog
        key={edited?.key ?? String(form)}
        visible={form !== null}
        title={edited ? 'Change the sensor' : 'Add a sensor'}
        submit="Save"
        busy={put.isPending}
        error={put.error}
        onClose={() => setForm(null)}
        fields={[
          { key: 'name', label: 'Name', required: true, initial: edited?.name },
          {
            key: 'width',
            label: 'Width, mm',
            numeric: true,
            required: true,
            initial: edited ? String(edited.width_mm) : '',
          },
          {
            key: 'height',
            label: 'Height, mm',
            numeric: true,
            required: true,
            initial: edited ? String(edited.height_mm) : '',
          },
        ]}
        onSubmit={(v) =>
          put.mutate(
            {
              key: edited?.key ?? freshKey(v.name, sensors.data?.map((s) => s.key) ?? []),
              name: v.name,
              width_mm: Number(v.width.replace(',', '.')),
              height_mm: Number(v.height.replace(',', '.')),
            },
            { onSuccess: () => setForm(null) },
          )
        }
      />
    </Screen>
  );
}
