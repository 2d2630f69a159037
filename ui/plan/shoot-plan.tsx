import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Action } from '../components/action';
import { versionToSend } from '../components/changed-meanwhile';
import { Disc } from '../components/disc';
import { MenuButton } from '../components/menu-button';
import { Row } from '../components/row';
import { Screen } from '../components/screen';
import { SortableList } from '../components/sortable-list';
import { Empty } from '../components/states';
import { useUndo } from '../components/undo';
import { Heading, Mono, Soft } from '../components/words';
import { useChangeShoot, useCopy, useMark, useNewSetup, useOrder } from '../data/plan-hooks';
import { saveFile } from '../data/save-file';
import type { SetupBoard, ShootPage } from '../../api/boards';
import { FormDialog } from '../forms/form-dialog';
import { ShootForm } from './shoot-form';

/** A shoot: its setups in order, each with what is planned on it, what contradicts itself, and its gate. */
export function ShootPlan({ shoot }: { shoot: ShootPage }) {
  const router = useRouter();
  const undo = useUndo();
  const create = useNewSetup(shoot.id);
  const change = useChangeShoot(shoot.id);
  const order = useOrder();
  const mark = useMark();
  const copy = useCopy();
  const [open, setOpen] = useState<'setup' | 'shoot' | null>(null);
  /** The version that stands in the form. */
  const [seen, setSeen] = useState(shoot.version);
  const live = shoot.setups.filter((s) => !s.archived);
  const archived = shoot.setups.filter((s) => s.archived);
  const remove = () =>
    mark.mutate(
      { what: 'shoots', id: shoot.id, word: 'deleted', on: true },
      {
        onSuccess: () => {
          undo({
            text: `${shoot.name} is deleted.`,
            undo: () => mark.mutate({ what: 'shoots', id: shoot.id, word: 'deleted', on: false }),
          });
          router.replace('/');
        },
      },
    );
  const edit = () => {
    change.reset();
    setSeen(shoot.version);
    setOpen('shoot');
  };
  const download = (file: string) => saveFile(`/api/shoots/${shoot.id}/${file}`);
  const menu = (
    <MenuButton
      label="More for this shoot"
      testID="shoot-menu"
      entries={[
        { label: 'Change the shoot', testID: 'edit-shoot', onPress: edit },
        { label: 'Take a shot list in', testID: 'to-import', onPress: () => router.push(`/shoots/${shoot.id}/import`) },
        { label: 'Shot list as CSV', testID: 'save-csv', onPress: () => download('shot-list.csv') },
        { label: 'Shot list as JSON', testID: 'save-json', onPress: () => download('shot-list.json') },
        {
          label: 'Daylight as a calendar',
          onPress: () => (shoot.days.length && shoot.latitude !== null ? download('daylight.ics') : setOpen('shoot')),
        },
        {
          label: 'Copy the shoot',
          testID: 'copy-shoot',
          onPress: () =>
            copy.mutate({ what: 'shoots', id: shoot.id }, { onSuccess: ({ id }) => router.push(`/shoots/${id}`) }),
        },
        {
          label: shoot.archived ? 'Take out of the archive' : 'Archive',
          onPress: () => mark.mutate({ what: 'shoots', id: shoot.id, word: 'archived', on: !shoot.archived }),
        },
        { label: 'Delete', testID: 'delete-shoot', onPress: remove },
      ]}
    />
  );
  return (
    <Screen
      where={`Plan / shoot${shoot.archived ? ' / archived' : ''}`}
      title={shoot.name}
      sign={menu}
      action={<Action label="New setup" icon="plus" onPress={() => setOpen('setup')} testID="new-setup" />}
    >
      <Soft>{[shoot.place, shoot.days.join(', ')].filter(Boolean).join(' · ')}</Soft>
      <Mono
        style={{ paddingVertical: 8 }}
      >{`delivery ${shoot.delivery_width} × ${shoot.delivery_height} px, ${shoot.delivery_fps} fps`}</Mono>
      {live.length === 0 && (
        <Empty title="No setup yet" text="A setup is one camera position. Add one, then put tricks on it." />
      )}
      <SortableList
        items={live}
        idOf={(s) => s.id}
        nameOf={(s) => s.name}
        testID="setups"
        onOrder={(ids) => order.mutate({ path: `/shoots/${shoot.id}/setup-order`, ids })}
        render={(s) => <SetupRow setup={s} />}
      />
      {archived.length > 0 && <Heading style={{ paddingTop: 20 }}>Archived</Heading>}
      {archived.map((s) => (
        <SetupRow key={s.id} setup={s} />
      ))}
      {shoot.removed.length > 0 && <Heading style={{ paddingTop: 20 }}>Deleted</Heading>}
      {shoot.removed.map((s) => (
        <Row
          key={s.id}
          title={`${s.number}  ${s.name}`}
          trail={
            <Action
              quiet
              label="Bring back"
              onPress={() => mark.mutate({ what: 'setups', id: s.id, word: 'deleted', on: false })}
            />
          }
        />
      ))}
      <FormDialog
        visible={open === 'setup'}
        title="New setup"
        submit="Add it"
        busy={create.isPending}
        error={create.error}
        onClose={() => setOpen(null)}
        text="One camera position. Tricks and settings come next."
        fields={[
          { key: 'name', label: 'Name, such as: Kiosk, locked, 35 mm', required: true },
          { key: 'place', label: 'Place' },
          { key: 'notes', label: 'Notes', multiline: true },
        ]}
        onSubmit={(v) =>
          create.mutate(
            { name: v.name, place: v.place, notes: v.notes },
            {
              onSuccess: (setup) => {
                setOpen(null);
                router.push(`/setups/${setup.id}/plan`);
              },
            },
          )
        }
      />
      {open === 'shoot' && (
        <ShootForm
          title="Change the shoot"
          start={shoot}
          submit="Save"
          busy={change.isPending}
          error={change.error}
          onClose={() => setOpen(null)}
          onSubmit={(v) =>
            change.mutate({ ...v, seen: versionToSend(change.error, seen) }, { onSuccess: () => setOpen(null) })
          }
        />
      )}
    </Screen>
  );
}

function SetupRow({ setup }: { setup: SetupBoard }) {
  const rolled = setup.parts.filter((q) => q.takes.length).length;
  const wrong = setup.contradictions.length;
  const tricks = setup.planned.map((t) => t.trick.name).join(', ') || 'no trick yet';
  return (
    <Row
      href={`/setups/${setup.id}/plan`}
      lead={<Disc verdict={setup.gate.verdict} />}
      title={`${setup.number}  ${setup.name}`}
      testID={`setup-${setup.number}`}
      text={`${tricks} · ${wrong ? `the plan contradicts itself ${wrong === 1 ? 'once' : `${wrong} times`}` : setup.gate.headline}`}
      trail={<Mono>{`${rolled} of ${setup.parts.length}`}</Mono>}
    />
  );
}
