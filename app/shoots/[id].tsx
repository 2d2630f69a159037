import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { Action } from '../../ui/components/action';
import { Disc } from '../../ui/components/disc';
import { Row } from '../../ui/components/row';
import { Screen } from '../../ui/components/screen';
import { Empty, Failed, Loading } from '../../ui/components/states';
import { Mono, Soft } from '../../ui/components/words';
import { useNewSetup, useShoot } from '../../ui/data/hooks';
import { FormDialog } from '../../ui/forms/form-dialog';

/** "Plate, Pass A, Pass B" as parts, in the order they are to be rolled. */
function partsFrom(text: string) {
  return text.split(/[,\n]/).map((name) => name.trim()).filter(Boolean).map((name) => ({ name, what: '' }));
}

export default function ShootScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const shoot = useShoot(id);
  const create = useNewSetup(id);
  const router = useRouter();
  const [open, setOpen] = useState(false);
  if (!shoot.data) {
    return <Screen where="Plan" title="Shoot">{shoot.error ? <Failed error={shoot.error} onAgain={shoot.refetch} /> : <Loading what="the shoot" />}</Screen>;
  }
  const s = shoot.data;
  return (
    <Screen where="Plan / shoot" title={s.name} action={<Action label="New setup" icon="plus" onPress={() => setOpen(true)} testID="new-setup" />}>
      <Soft>{s.place}</Soft>
      <Mono style={{ paddingVertical: 8 }}>{`delivery ${s.delivery_width} × ${s.delivery_height} px at ${s.delivery_fps} frames a second`}</Mono>
      {s.setups.length === 0 && <Empty title="No setup yet" text="A setup is one camera position. Add one and say which parts it must record." />}
      {s.setups.map((u) => (
        <Row
          key={u.id} href={`/setups/${u.id}`} lead={<Disc verdict={u.gate.verdict} />}
          title={`${u.number}  ${u.name}`} text={u.gate.headline}
          trail={<Mono>{`${u.parts.filter((p) => p.takes.length).length} of ${u.parts.length} parts`}</Mono>}
        />
      ))}
      <FormDialog
        visible={open} title="New setup" submit="Add it" busy={create.isPending} error={create.error} onClose={() => setOpen(false)}
        text="One camera position. Name the parts in the order you will roll them."
        fields={[
          { key: 'name', label: 'Name, such as: Kiosk, locked, 35 mm', required: true },
          { key: 'parts', label: 'Parts, with commas between', initial: 'Plate, Pass A, Pass B', required: true },
          { key: 'notes', label: 'Notes', multiline: true },
        ]}
        onSubmit={(v) => create.mutate(
          { name: v.name, notes: v.notes, parts: partsFrom(v.parts) },
          { onSuccess: (setup) => { setOpen(false); router.push(`/setups/${setup.id}`); } },
        )}
      />
    </Screen>
  );
}
