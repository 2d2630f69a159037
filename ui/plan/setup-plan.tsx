import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { proposeOrder, stepsInOrder } from '../../core/plan/rolling-order';
import { Action } from '../components/action';
import { versionToSend } from '../components/changed-meanwhile';
import { MenuButton } from '../components/menu-button';
import { Contradictions } from '../components/notice';
import { Row } from '../components/row';
import { Screen, useWide } from '../components/screen';
import { SortableList } from '../components/sortable-list';
import { Body, Heading, Mono, Soft } from '../components/words';
import { useNewPart } from '../data/hooks';
import { useChangePart, useCopy, useMark, useOrder } from '../data/plan-hooks';
import type { SetupPage } from '../../api/boards';
import { useUndo } from '../components/undo';
import { FormDialog } from '../forms/form-dialog';
import { settingLines } from './setting-lines';
import { SetupSettings } from './setup-settings';

/** The plan of one setup: what contradicts itself, its tricks, what is set by hand, and the order of rolling. */
export function SetupPlan({ setup }: { setup: SetupPage }) {
  const router = useRouter();
  const wide = useWide();
  const [settings, setSettings] = useState(false);
  const mark = useMark();
  const copy = useCopy();
  const undo = useUndo();
  const remove = () =>
    mark.mutate(
      { what: 'setups', id: setup.id, word: 'deleted', on: true },
      {
        onSuccess: () => {
          undo({
            text: `Setup ${setup.number} is deleted.`,
            undo: () => mark.mutate({ what: 'setups', id: setup.id, word: 'deleted', on: false }),
          });
          router.replace(`/shoots/${setup.shoot_id}`);
        },
      },
    );
  const menu = (
    <MenuButton
      label="More for this setup"
      testID="setup-menu"
      entries={[
        { label: 'Gate of this setup', onPress: () => router.push(`/setups/${setup.id}`) },
        {
          label: 'Copy this setup',
          testID: 'copy-setup',
          onPress: () =>
            copy.mutate({ what: 'setups', id: setup.id }, { onSuccess: ({ id }) => router.push(`/setups/${id}/plan`) }),
        },
        {
          label: setup.archived ? 'Take out of the archive' : 'Archive',
          onPress: () => mark.mutate({ what: 'setups', id: setup.id, word: 'archived', on: !setup.archived }),
        },
        { label: 'Delete', testID: 'delete-setup', onPress: remove },
      ]}
    />
  );
  const lines = settingLines(setup.camera);
  const noted = settings ? (
    <SetupSettings setup={setup} onDone={() => setSettings(false)} />
  ) : (
    <View style={styles.noted}>
      {lines.length === 0 && (
        <Soft>Nothing is noted yet: size, rate, shutter and focus decide what the tricks can do.</Soft>
      )}
      <View style={styles.facts}>
        {lines.map((l) => (
          <View key={l.key} style={styles.fact}>
            <Mono>{l.name.toLowerCase()}</Mono>
            <Body>{l.value}</Body>
          </View>
        ))}
      </View>
      {setup.notes ? <Soft>{setup.notes}</Soft> : null}
      <Action
        quiet
        label="Note the settings"
        icon="tune-vertical"
        onPress={() => setSettings(true)}
        testID="edit-settings"
      />
    </View>
  );
  return (
    <Screen
      where={`${setup.shoot.name} / setup ${setup.number}${setup.archived ? ' / archived' : ''}`}
      title={setup.name}
      sign={menu}
      full={wide}
      action={
        <Action
          label="Sheet for the set"
          icon="clipboard-text-outline"
          onPress={() => router.push(`/setups/${setup.id}/sheet`)}
          testID="to-sheet"
        />
      }
    >
      <Contradictions found={settings ? [] : setup.contradictions} />
      <View style={wide ? styles.columns : undefined}>
        <View style={wide ? styles.column : undefined}>
          <Tricks setup={setup} />
          <Heading style={styles.head}>Noted for this setup</Heading>
          {noted}
        </View>
        <View style={wide ? styles.column : undefined}>
          <Order setup={setup} />
        </View>
      </View>
    </Screen>
  );
}

function Tricks({ setup }: { setup: SetupPage }) {
  const router = useRouter();
  const order = useOrder();
  const mark = useMark();
  return (
    <>
      <Heading style={styles.head}>Tricks</Heading>
      {setup.planned.length === 0 && (
        <Soft>None yet. A trick brings its parts, what must be true, and the words to say on set.</Soft>
      )}
      <SortableList
        items={setup.planned}
        idOf={(t) => t.id}
        nameOf={(t) => t.trick.name}
        testID="tricks"
        onOrder={(ids) => order.mutate({ path: `/setups/${setup.id}/trick-order`, ids })}
        render={(t) => (
          <Row
            href={`/planned/${t.id}`}
            title={t.trick.name}
            testID={`trick-${t.trick.name}`}
            text={[
              `${t.trick.parts.length} parts, ${t.trick.requirements.length} requirements`,
              t.wishes.speed_pct !== null ? `${t.wishes.speed_pct} % speed` : '',
              t.wishes.push_pct !== null ? `push to ${t.wishes.push_pct} %` : '',
            ]
              .filter(Boolean)
              .join(' · ')}
          />
        )}
      />
      <Action
        quiet
        label="Put a trick on it"
        icon="plus"
        onPress={() => router.push(`/setups/${setup.id}/add-trick`)}
        style={styles.add}
        testID="add-trick"
      />
      {setup.removed.tricks.map((t) => (
        <Row
          key={t.id}
          title={`${t.name}, removed`}
          trail={
            <Action
              quiet
              label="Bring back"
              onPress={() => mark.mutate({ what: 'planned', id: t.id, word: 'deleted', on: false })}
            />
          }
        />
      ))}
    </>
  );
}

function Order({ setup }: { setup: SetupPage }) {
  const order = useOrder();
  const mark = useMark();
  const undo = useUndo();
  const addPart = useNewPart(setup.id);
  const changePart = useChangePart();
  const [form, setForm] = useState<'new' | string | null>(null);
  /** The version that stands in the form. */
  const [seen, setSeen] = useState(0);
  const steps = stepsInOrder(setup.parts, setup.planned);
  const proposed = proposeOrder(setup.parts, setup.planned);
  const differs = proposed.some((s, i) => s.part.id !== steps[i].part.id);
  const send = (ids: string[]) => order.mutate({ path: `/setups/${setup.id}/part-order`, ids });
  const edited = setup.parts.find((p) => p.id === form);
  const numberOf = new Map(steps.map((s, i) => [s.part.id, i + 1]));
  const edit = (id: string) => {
    changePart.reset();
    setSeen(setup.parts.find((p) => p.id === id)?.version ?? 0);
    setForm(id);
  };
  const remove = (id: string, name: string) =>
    mark.mutate(
      { what: 'parts', id, word: 'deleted', on: true },
      {
        onSuccess: () =>
          undo({
            text: `${name} is deleted.`,
            undo: () => mark.mutate({ what: 'parts', id, word: 'deleted', on: false }),
          }),
        onError: (error) => undo({ text: error.message }),
      },
    );
  return (
    <>
      <Heading style={styles.head}>Order of rolling</Heading>
      {differs && (
        <View style={styles.proposal} testID="proposal">
          <Soft>{`Proposed: ${proposed.map((s) => s.part.name).join(', ')}.`}</Soft>
          {proposed
            .filter((s, i) => s.part.id !== steps[i].part.id)
            .slice(0, 3)
            .map((s) => (
              <Soft key={s.part.id}>{`${s.part.name}: ${s.why}`}</Soft>
            ))}
          <Action
            quiet
            label="Use the proposed order"
            icon="sort"
            onPress={() => send(proposed.map((s) => s.part.id))}
            testID="use-proposed"
          />
        </View>
      )}
      {!differs && steps.length > 1 && <Soft>This is the order the app proposes. Drag to change it.</Soft>}
      <SortableList
        items={steps}
        idOf={(s) => s.part.id}
        nameOf={(s) => s.part.name}
        onOrder={send}
        testID="order"
        render={(s) => (
          <Row
            lead={<Mono>{String(numberOf.get(s.part.id))}</Mono>}
            title={`${s.part.name}${s.part.optional ? ', may be left out' : ''}`}
            text={s.why}
            testID={`step-${s.part.name}`}
            trail={
              <MenuButton
                label={`More for ${s.part.name}`}
                entries={[
                  { label: 'Change it', onPress: () => edit(s.part.id) },
                  { label: 'Delete', onPress: () => remove(s.part.id, s.part.name) },
                ]}
              />
            }
          />
        )}
      />
      <Action quiet label="Add a part without a trick" icon="plus" onPress={() => setForm('new')} style={styles.add} />
      {setup.removed.parts
        .filter((r) => !setup.parts.some((q) => q.name === r.name))
        .map((r) => (
          <Row
            key={r.id}
            title={`${r.name}, deleted`}
            trail={
              <Action
                quiet
                label="Bring back"
                onPress={() => mark.mutate({ what: 'parts', id: r.id, word: 'deleted', on: false })}
              />
            }
          />
        ))}
      <FormDialog
        key={form ?? 'none'}
        visible={form !== null}
        title={form === 'new' ? 'Add a part' : 'Change the part'}
        submit={form === 'new' ? 'Add it' : 'Save'}
        busy={addPart.isPending || changePart.isPending}
        error={form === 'new' ? addPart.error : changePart.error}
        onClose={() => setForm(null)}
        fields={[
          { key: 'name', label: 'Part, such as: Plate', required: true, initial: edited?.name },
          { key: 'what', label: 'What to record', initial: edited?.what },
          { key: 'seconds', label: 'Length, s', numeric: true, required: true, initial: String(edited?.seconds ?? 10) },
        ]}
        onSubmit={(v) => {
          const body = { name: v.name, what: v.what, seconds: Number(v.seconds.replace(',', '.')) };
          if (form === 'new') addPart.mutate(body, { onSuccess: () => setForm(null) });
          else if (form)
            changePart.mutate(
              { id: form, seen: versionToSend(changePart.error, seen), ...body },
              { onSuccess: () => setForm(null) },
            );
        }}
      />
    </>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 16, paddingBottom: 4 },
  columns: { flexDirection: 'row', gap: 32, alignItems: 'flex-start' },
  column: { flex: 1, minWidth: 0 },
  add: { marginTop: 12 },
  noted: { gap: 10 },
  facts: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 22, rowGap: 8 },
  fact: { minWidth: 84 },
  proposal: { gap: 8, paddingBottom: 8 },
});
