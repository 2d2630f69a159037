import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Action } from '../ui/components/action';
import { Row } from '../ui/components/row';
import { Screen } from '../ui/components/screen';
import { Empty, Failed, Loading } from '../ui/components/states';
import { Heading, Mono } from '../ui/components/words';
import { useMark, useNewShoot } from '../ui/data/plan-hooks';
import { useShoots } from '../ui/data/hooks';
import type { ShootInList } from '../api/plan';
import { ShootForm } from '../ui/plan/shoot-form';

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

export default function Shoots() {
  const shoots = useShoots();
  const create = useNewShoot();
  const mark = useMark();
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const all = shoots.data ?? [];
  const live = all.filter((s) => !s.archived && !s.deleted);
  const archived = all.filter((s) => s.archived && !s.deleted);
  const deleted = all.filter((s) => s.deleted);
  return (
    <Screen
      where="Plan"
      title="Shoots"
      action={<Action label="New shoot" icon="plus" onPress={() => setOpen(true)} testID="new-shoot" />}
    >
      {shoots.isPending && <Loading what="the shoots" />}
      {shoots.error && !shoots.data && <Failed error={shoots.error} onAgain={shoots.refetch} />}
      {shoots.data && live.length === 0 && (
        <Empty title="No shoot yet" text="Make one, add a setup for each camera position, and put tricks on it." />
      )}
      {live.map((s) => (
        <ShootRow key={s.id} shoot={s} />
      ))}
      <Heading style={{ paddingTop: 24 }}>Before the shoot</Heading>
      <Row
        href="/sums"
        title="Sums"
        text="Rate for slow motion, cover, softness, headroom, room for a double, daylight, flicker"
        testID="to-sums"
      />
      <Heading style={{ paddingTop: 24 }}>On the set</Heading>
      <Row href="/devices" title="Devices" text="Who works here: phones and tablets that joined" testID="to-devices" />
      <Row
        href="/take-in"
        title="Take a pack in"
        text="A shoot from another machine, or a backup"
        testID="to-take-in"
      />
      <Row href="/disk" title="Room on disk" text="What takes how much, and what may go" testID="to-disk" />
      {archived.length > 0 && <Heading style={{ paddingTop: 24 }}>Archived</Heading>}
      {archived.map((s) => (
        <ShootRow key={s.id} shoot={s} />
      ))}
      {deleted.length > 0 && <Heading style={{ paddingTop: 24 }}>Deleted</Heading>}
      {deleted.map((s) => (
        <Row
          key={s.id}
          title={s.name}
          trail={
            <Action
              quiet
              label="Bring back"
              onPress={() => mark.mutate({ what: 'shoots', id: s.id, word: 'deleted', on: false })}
            />
          }
        />
      ))}
      {open && (
        <ShootForm
          title="New shoot"
          submit="Make it"
          busy={create.isPending}
          error={create.error}
          onClose={() => setOpen(false)}
          onSubmit={(fields) =>
            create.mutate(fields, {
              onSuccess: (shoot) => {
                setOpen(false);
                router.push(`/shoots/${shoot.id}`);
              },
            })
          }
        />
      )}
    </Screen>
  );
}

function ShootRow({ shoot: s }: { shoot: ShootInList }) {
  const going =
    s.setups > 0 && s.takes > 0 && !s.archived
      ? `${s.struck} of ${s.setups} setups may be struck${s.next ? `; next: ${s.next}` : ''}`
      : s.next && !s.archived
        ? `next: ${s.next}`
        : null;
  return (
    <Row
      href={`/shoots/${s.id}`}
      title={s.name}
      text={[
        s.place,
        [count(s.setups, 'setup', 'setups'), count(s.tricks, 'trick', 'tricks'), count(s.takes, 'take', 'takes')].join(
          ', ',
        ),
        going,
      ]
        .filter(Boolean)
        .join(' · ')}
      trail={<Mono>{`${s.delivery_width} × ${s.delivery_height} @ ${s.delivery_fps}`}</Mono>}
    />
  );
}
