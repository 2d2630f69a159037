import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { checkTrick } from '../../core/plan/check-trick';
import { findContradictions } from '../../core/plan/contradictions';
import type { Trick, TrickWishes } from '../../core/tricks/types';
import { Action } from '../components/action';
import { ChangedMeanwhile, versionToSend } from '../components/changed-meanwhile';
import { MenuButton } from '../components/menu-button';
import { Cautions, Contradictions } from '../components/notice';
import { Screen, useWide } from '../components/screen';
import { Failed } from '../components/states';
import { useUndo } from '../components/undo';
import { Heading, Soft } from '../components/words';
import { ChangedHere } from '../data/client';
import { useChangeTrick, useCopy, useMark } from '../data/plan-hooks';
import type { PlannedPage } from '../../api/boards';
import { FieldGrid, NumberField, TextField } from '../forms/fields';
import { TrickParts } from './trick-parts';
import { TrickRequirements } from './trick-requirements';
import { TrickScript } from './trick-script';
import { TrickSums } from './trick-sums';

type Base = Pick<PlannedPage, 'version' | 'trick' | 'wishes'>;

/** Trick and wishes as one, as they stand on the screen. */
const flat = ({ trick, wishes }: Omit<Base, 'version'>) => ({ ...trick, ...wishes });

/** A planned trick: what is wished of it, its parts, what must be true, what is said, and its sums. */
export function TrickEditor({ planned }: { planned: PlannedPage }) {
  const router = useRouter();
  const wide = useWide();
  const undo = useUndo();
  const mark = useMark();
  const copy = useCopy();
  const change = useChangeTrick(planned.id);
  /** What the draft began with. */
  const [base, setBase] = useState<Base>(planned);
  const [trick, setTrick] = useState<Trick>(planned.trick);
  const [wishes, setWishes] = useState<TrickWishes>(planned.wishes);
  const begin = (from: Base) => {
    change.reset();
    setBase(from);
    setTrick(from.trick);
    setWishes(from.wishes);
  };
  const edit = (part: Partial<Trick>) => setTrick((t) => ({ ...t, ...part }));
  const wish = (part: Partial<TrickWishes>) => setWishes((w) => ({ ...w, ...part }));
  const changed = JSON.stringify([trick, wishes]) !== JSON.stringify([base.trick, base.wishes]);
  // Somebody else saved it: nothing of one's own is lost by reading theirs, or both are shown.
  const isNewer = planned.version > base.version;
  if (isNewer && !changed && !change.isPending) begin(planned);
  const again = changed && (isNewer || change.error instanceof ChangedHere);
  const save = () =>
    change.mutate(
      { trick, wishes, seen: again ? Math.max(planned.version, versionToSend(change.error, 0)) : base.version },
      { onSuccess: begin },
    );
  const wrong = checkTrick(trick);
  const { shoot, setup } = planned;
  const own = findContradictions(
    setup.camera,
    { width: shoot.delivery_width, height: shoot.delivery_height, fps: shoot.delivery_fps },
    [{ ...planned, trick, wishes }],
  ).filter((c) => c.tricks.includes(planned.id));
  // What contradicts other tricks of the setup was found by the server, from the plan as saved.
  const others = planned.contradictions.filter((c) => c.tricks.length > 1);
  const remove = () =>
    mark.mutate(
      { what: 'planned', id: planned.id, word: 'deleted', on: true },
      {
        onSuccess: () => {
          undo({
            text: `${planned.trick.name} is removed.`,
            undo: () => mark.mutate({ what: 'planned', id: planned.id, word: 'deleted', on: false }),
          });
          router.replace(`/setups/${setup.id}/plan`);
        },
      },
    );
  const menu = (
    <MenuButton
      label="More for this trick"
      testID="trick-menu"
      entries={[
        {
          label: 'Copy on this setup',
          onPress: () =>
            copy.mutate(
              { what: 'planned', id: planned.id, body: { setup_id: setup.id } },
              { onSuccess: ({ id }) => router.push(`/planned/${id}`) },
            ),
        },
        { label: 'Remove from the setup', testID: 'remove-trick', onPress: remove },
      ]}
    />
  );
  return (
    <Screen
      where={`${shoot.name} / setup ${setup.number}`}
      title={trick.name || 'Trick'}
      sign={menu}
      full={wide}
      action={
        changed ? (
          <View style={styles.actions}>
            <Action
              quiet
              label={again ? 'Keep theirs' : 'Discard'}
              onPress={() => begin(planned)}
              style={styles.side}
              testID="discard-trick"
            />
            <View style={styles.main}>
              <Action
                label={again ? 'Save mine over it' : 'Save the trick'}
                disabled={wrong.length > 0 || change.isPending}
                onPress={save}
                testID="save-trick"
              />
            </View>
          </View>
        ) : (
          <Action
            quiet
            label={`Back to setup ${setup.number}`}
            onPress={() => router.push(`/setups/${setup.id}/plan`)}
            testID="to-setup"
          />
        )
      }
    >
      <Contradictions found={[...own, ...others]} />
      {changed && <Cautions texts={wrong} testID="trick-wrong" />}
      {again && (
        <ChangedMeanwhile
          here={flat(change.error instanceof ChangedHere && !isNewer ? (change.error.here as Base) : planned)}
          yours={flat({ trick, wishes })}
          text="Somebody else has changed this trick since you began. Keep theirs, or save yours over it."
        />
      )}
      {change.error && !again && <Failed error={change.error} />}
      <View style={wide ? styles.columns : undefined}>
        <View style={wide ? styles.column : undefined}>
          {trick.key === 'own' ? (
            <FieldGrid>
              <TextField label="Name" value={trick.name} onChange={(name) => edit({ name })} testID="trick-name" />
              <TextField
                label="What the audience sees"
                value={trick.summary}
                onChange={(summary) => edit({ summary })}
              />
            </FieldGrid>
          ) : (
            <Soft>{trick.summary}</Soft>
          )}
          <Heading style={styles.head}>Wished for</Heading>
          <FieldGrid>
            <NumberField
              label="Speed"
              unit="%"
              value={wishes.speed_pct}
              onChange={(speed_pct) => wish({ speed_pct })}
              least={1}
              most={2000}
              testID="wish-speed"
            />
            <NumberField
              label="Push up to"
              unit="%"
              value={wishes.push_pct}
              onChange={(push_pct) => wish({ push_pct })}
              least={100}
              most={1000}
              testID="wish-push"
            />
            <NumberField
              label="Lens height"
              unit="m"
              value={wishes.height_m}
              onChange={(height_m) => wish({ height_m })}
              least={-100}
              most={10000}
            />
            <NumberField
              label="Tilt"
              unit="°"
              value={wishes.tilt_deg}
              onChange={(tilt_deg) => wish({ tilt_deg })}
              least={-180}
              most={180}
            />
            <NumberField
              label="Focal length"
              unit="mm"
              value={wishes.lens_mm}
              onChange={(lens_mm) => wish({ lens_mm })}
              least={1}
              most={5000}
            />
          </FieldGrid>
          <Soft style={styles.hint}>
            Speed and push in the edit, and a camera place of its own. Leave empty what the trick does not need.
          </Soft>
          <TrickParts trick={trick} onChange={edit} />
          <TrickSums planned={planned} />
        </View>
        <View style={wide ? styles.column : undefined}>
          <TrickRequirements trick={trick} judged={planned.judged} onChange={edit} />
          <TrickScript trick={trick} onChange={edit} />
          {trick.mistakes.length > 0 && <Heading style={styles.head}>Goes wrong when</Heading>}
          {trick.mistakes.map((m) => (
            <Soft key={m}>{m}</Soft>
          ))}
        </View>
      </View>
    </Screen>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 16, paddingBottom: 6 },
  columns: { flexDirection: 'row', gap: 32, alignItems: 'flex-start' },
  column: { flex: 1, minWidth: 0 },
  hint: { paddingTop: 6 },
  actions: { flexDirection: 'row', gap: 10 },
  side: { width: 116 },
  main: { flex: 1 },
});
