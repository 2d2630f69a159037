import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Action } from '../ui/components/action';
import { Row } from '../ui/components/row';
import { Screen } from '../ui/components/screen';
import { Empty, Failed, Loading } from '../ui/components/states';
import { Mono } from '../ui/components/words';
import { useNewShoot, useShoots } from '../ui/data/hooks';
import { FormDialog } from '../ui/forms/form-dialog';

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

export default function Shoots() {
  const shoots = useShoots();
  const create = useNewShoot();
  const router = useRouter();
  const [open, setOpen] = useState(false);
  return (
    <Screen where="Plan" title="Shoots" action={<Action label="New shoot" icon="plus" onPress={() => setOpen(true)} testID="new-shoot" />}>
      {shoots.isPending && <Loading what="the shoots" />}
      {shoots.error && !shoots.data && <Failed error={shoots.error} onAgain={shoots.refetch} />}
      {shoots.data?.length === 0 && <Empty title="No shoot yet" text="Make one, add a setup for each camera position, and roll." />}
      {shoots.data?.map((s) => (
        <Row
          key={s.id} href={`/shoots/${s.id}`} title={s.name}
          text={[s.place, `${count(s.setups, 'setup', 'setups')}, ${count(s.takes, 'take', 'takes')}`].filter(Boolean).join(' · ')}
          trail={<Mono>{`${s.delivery_width} × ${s.delivery_height} @ ${s.delivery_fps}`}</Mono>}
        />
      ))}
      <FormDialog
        visible={open} title="New shoot" submit="Make it" busy={create.isPending} error={create.error} onClose={() => setOpen(false)}
        fields={[
          { key: 'name', label: 'Name', required: true }, { key: 'place', label: 'Place' },
          { key: 'width', label: 'Delivery width, px', initial: '1920', numeric: true, required: true },
          { key: 'height', label: 'Delivery height, px', initial: '1080', numeric: true, required: true },
          { key: 'fps', label: 'Delivery rate, frames a second', initial: '25', numeric: true, required: true },
        ]}
        onSubmit={(v) => create.mutate(
          { name: v.name, place: v.place, delivery_width: Number(v.width), delivery_height: Number(v.height), delivery_fps: Number(v.fps) },
          { onSuccess: (shoot) => { setOpen(false); router.push(`/shoots/${shoot.id}`); } },
        )}
      />
    </Screen>
  );
}
