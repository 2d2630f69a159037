import { useRouter } from 'expo-router';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Image, StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { Screen, useWide } from '../components/screen';
import { Failed, Progress } from '../components/states';
import { Body, Heading, Soft } from '../components/words';
import { useRoll, useStartRoll } from '../data/hooks';
import type { PartWithTakes, SetupPage } from '../../api/boards';
import type { Roll, RollWish } from '../../api/rolls';
import type { Take } from '../../api/takes';
import { useUpload } from '../data/upload';
import { ChoiceField } from '../forms/fields';
import { ACTS, actOfPart, faultsOf } from './act-choices';
import { FileDrop } from './file-drop';

const TRIPODS: { value: RollWish['tripod']; label: string }[] = [
  { value: 'still', label: 'Stays put' },
  { value: 'knock', label: 'Gets knocked' },
  { value: 'drift', label: 'Sinks slowly' },
  { value: 'handheld', label: 'Held by hand' },
  { value: 'breathing', label: 'Lens breathes' },
  { value: 'nudged', label: 'Was nudged before' },
];
const CROSSINGS: { value: RollWish['crossing']; label: string }[] = [
  { value: 'nobody', label: 'Nobody' },
  { value: 'left-to-right', label: 'Crosses to the right' },
  { value: 'right-to-left', label: 'Crosses to the left' },
  { value: 'stands', label: 'Stands there' },
  { value: 'comes-and-stays', label: 'Comes and stays' },
  { value: 'shadow-only', label: 'Only a shadow falls in' },
  { value: 'slips-behind', label: 'Slips behind the pillar' },
  { value: 'slips-before', label: 'Stops before the pillar' },
  { value: 'stands-across', label: 'Stands across' },
  { value: 'reaches-over', label: 'Reaches over from there' },
  { value: 'shadow-crosses', label: 'Shadow crosses from there' },
  { value: 'in-opening', label: 'Comes to the window' },
  { value: 'leaves-opening', label: 'Leans out of the window' },
];
const LIGHTS: { value: RollWish['light']; label: string }[] = [
  { value: 'steady', label: 'Steady' },
  { value: 'drift', label: 'Drifts' },
  { value: 'step', label: 'Exposure jumps' },
  { value: 'cloud', label: 'A cloud comes' },
  { value: 'flicker', label: 'Lamps flicker' },
  { value: 'brighter', label: 'Camera was stopped' },
  { value: 'darker', label: 'Stopped, and darker' },
];
const WHITES: { value: RollWish['white']; label: string }[] = [
  { value: 'steady', label: 'Set by hand' },
  { value: 'shift', label: 'Shifts' },
];
const FOCUSES: { value: RollWish['focus']; label: string }[] = [
  { value: 'held', label: 'Holds' },
  { value: 'hunt', label: 'Hunts once' },
  { value: 'soft', label: 'Is off' },
];
const PROPS: { value: RollWish['prop']; label: string }[] = [
  { value: 'none', label: 'As it is' },
  { value: 'crate', label: 'Crate in its place' },
  { value: 'crate-off', label: 'Crate a hand’s breadth off' },
  { value: 'lantern-off', label: 'Lantern taken away' },
];
const TREES = [
  { value: 'no', label: 'No tree' },
  { value: 'yes', label: 'Tree in the wind' },
];
const RATES: { value: RollWish['rate']; label: string }[] = [
  { value: 'steady', label: 'Steady' },
  { value: 'wandering', label: 'Wanders' },
];
const SOUNDS = [
  { value: 'none', label: 'No sound' },
  { value: 'clap', label: 'A clap on the beat' },
];
const WIPES: { value: RollWish['wipe']; label: string }[] = [
  { value: 'none', label: 'No wipe' },
  { value: 'cart', label: 'A cart passes' },
  { value: 'coat', label: 'A coat passes close' },
  { value: 'pan', label: 'Pan past a post' },
  { value: 'walk-in', label: 'Walk up to a door' },
  { value: 'lid', label: 'A lid closes' },
];
const WIPE_WAYS: { value: RollWish['wipe_way']; label: string }[] = [
  { value: 'left-to-right', label: 'To the right' },
  { value: 'right-to-left', label: 'To the left' },
];
const WIPE_FAULTS: { value: RollWish['wipe_fault']; label: string }[] = [
  { value: 'none', label: 'Goes well' },
  { value: 'misses-corner', label: 'Misses a corner' },
  { value: 'stays-in', label: 'Does not leave' },
  { value: 'uneven', label: 'Uneven pace' },
  { value: 'soft', label: 'Soft edges' },
];
const PLACES = [
  { value: 'kiosk', label: 'Ticket kiosk' },
  { value: 'pillar', label: 'Mooring pillar' },
  { value: 'bench', label: 'Bench' },
] as const;
const SIZES = [
  ['640', '360p'],
  ['960', '540p'],
  ['1280', '720p'],
  ['1920', '1080p'],
].map(([value, label]) => ({ value, label }));
const SPEEDS = ['24', '25', '30', '50'].map((value) => ({ value, label: `${value} fps` }));
/** What covers the picture in the tricks that change the place. */
const WIPE_OF: Record<string, RollWish['wipe']> = {
  'passing-wipe': 'cart',
  'pan-past-wipe': 'pan',
  'walk-in-wipe': 'walk-in',
  'closing-wipe': 'lid',
};
const LENGTHS = ['4', '6', '10'].map((value) => ({ value, label: `${value} s` }));

/** Rolling one part: with the stand-in camera, or by taking in the camera's file. */
export function RollPanel({ setup, part }: { setup: SetupPage; part: PartWithTakes }) {
  const router = useRouter();
  const wide = useWide();
  const [settings, setSettings] = useState<RollWish>({
    tripod: 'still',
    crossing: /pass/i.test(part.name) ? 'left-to-right' : 'nobody',
    light: 'steady',
    white: 'steady',
    focus: 'held',
    prop: 'none',
    tree: false,
    rate: 'steady',
    act: actOfPart(setup, part.id),
    act_fault: 'none',
    clap: false,
    ...sideOf(setup, part),
    wipe_way: 'left-to-right',
    wipe_fault: 'none',
    seconds: 6,
    fps: rateOf(setup, part),
    width: 1280,
    grain: 2,
    seed: 1,
  });
  const [rollId, setRollId] = useState<string | null>(null);
  const start = useStartRoll(part.id);
  const roll = useRoll(rollId);
  const toTake = useCallback((take: Pick<Take, 'id'>) => router.replace(`/takes/${take.id}`), [router]);
  const upload = useUpload(toTake);
  const takeId = roll.data?.take_id;
  useEffect(() => {
    if (takeId) toTake({ id: takeId });
  }, [takeId, toTake]);
  const rolling = rollId !== null && roll.data?.state !== 'failed';
  const press = () =>
    start.mutate({ ...settings, seed: 1 + Math.floor(Math.random() * 1e6) }, { onSuccess: (r) => setRollId(r.id) });
  const choose = (change: Partial<RollWish>) => setSettings((s) => ({ ...s, ...change }));
  // What covers the picture has the place to itself.
  const wiping = settings.wipe !== 'none';
  const isSide = /side/i.test(part.name);
  const wipeField = (
    <ChoiceField name="Wipe" options={WIPES} value={settings.wipe} onChange={(wipe) => choose({ wipe })} />
  );
  const sending = upload.state !== null && upload.state.error === null;

  return (
    <Screen
      where={`${setup.shoot.name} / setup ${setup.number}`}
      title={`Roll: ${part.name}`}
      action={
        <Action
          label={rolling ? 'Recording …' : `Roll ${settings.seconds} seconds`}
          disabled={rolling || sending || start.isPending}
          onPress={press}
          testID="roll"
        />
      }
    >
      {part.what ? <Body>{part.what}</Body> : null}
      {rolling && <Recording roll={roll.data ?? null} rollId={rollId!} />}
      {start.error && <Failed error={start.error} />}
      {roll.data?.state === 'failed' && (
        <Failed error={new Error(roll.data.failure ?? 'The stand-in camera stopped.')} />
      )}
      {!rolling && (
        <>
          <FileDrop state={upload.state} onFile={(file) => upload.start(file, part.id)} onClear={upload.clear} />
          <Heading style={styles.gap}>Or roll the stand-in camera</Heading>
          <Soft>It records this setup’s made-up place to a real file, and knows the truth about it.</Soft>
          <View style={wide ? styles.columns : undefined}>
            {isSide && wipeField}
            {!wiping && (
              <ChoiceField
                name="Tripod"
                options={TRIPODS}
                value={settings.tripod}
                onChange={(tripod) => choose({ tripod })}
              />
            )}
            {wiping && (
              <ChoiceField
                name="Way of the wipe"
                options={WIPE_WAYS}
                value={settings.wipe_way}
                onChange={(wipe_way) => choose({ wipe_way })}
              />
            )}
            {wiping && (
              <ChoiceField
                name="How it goes"
                options={WIPE_FAULTS}
                value={settings.wipe_fault}
                onChange={(wipe_fault) => choose({ wipe_fault })}
              />
            )}
            {!wiping && (
              <ChoiceField
                name="What is done"
                options={ACTS}
                value={settings.act}
                onChange={(act) => choose({ act, act_fault: 'none' })}
              />
            )}
            {!wiping && faultsOf(settings.act).length > 1 && (
              <ChoiceField
                name="How it is done"
                options={faultsOf(settings.act)}
                value={settings.act_fault}
                onChange={(act_fault) => choose({ act_fault })}
              />
            )}
            {!wiping && settings.act !== 'none' && (
              <ChoiceField
                name="Sound"
                options={SOUNDS}
                value={settings.clap ? 'clap' : 'none'}
                onChange={(sound) => choose({ clap: sound === 'clap' })}
              />
            )}
            {!wiping && settings.act === 'none' && (
              <ChoiceField
                name="Performer"
                options={CROSSINGS}
                value={settings.crossing}
                onChange={(crossing) => choose({ crossing })}
              />
            )}
            <ChoiceField name="Light" options={LIGHTS} value={settings.light} onChange={(light) => choose({ light })} />
            <ChoiceField name="White" options={WHITES} value={settings.white} onChange={(white) => choose({ white })} />
            <ChoiceField
              name="Focus"
              options={FOCUSES}
              value={settings.focus}
              onChange={(focus) => choose({ focus })}
            />
            {!wiping && (
              <ChoiceField name="Props" options={PROPS} value={settings.prop} onChange={(prop) => choose({ prop })} />
            )}
            <ChoiceField
              name="Trees"
              options={TREES}
              value={settings.tree ? 'yes' : 'no'}
              onChange={(tree) => choose({ tree: tree === 'yes' })}
            />
            {!isSide && wipeField}
            {isSide && (
              <ChoiceField
                name="Place"
                options={PLACES}
                value={settings.scene ?? (setup.scene as 'kiosk')}
                onChange={(scene) => choose({ scene })}
              />
            )}
            <ChoiceField
              name="Recorded at"
              options={SIZES}
              value={String(settings.width)}
              onChange={(width) => choose({ width: Number(width) })}
            />
            <ChoiceField
              name="Frames a second"
              options={SPEEDS}
              value={String(settings.fps)}
              onChange={(fps) => choose({ fps: Number(fps) })}
            />
            <ChoiceField name="Rate" options={RATES} value={settings.rate} onChange={(rate) => choose({ rate })} />
            <ChoiceField
              name="Length"
              options={LENGTHS}
              value={String(settings.seconds)}
              onChange={(seconds) => choose({ seconds: Number(seconds) })}
            />
          </View>
        </>
      )}
    </Screen>
  );
}

/** What a side of a wipe is rolled with at first: its trick's own wipe; the in side in another place. */
function sideOf(setup: SetupPage, part: PartWithTakes): Pick<RollWish, 'wipe' | 'wipe_side' | 'scene'> {
  const trick = setup.planned.find((t) => Object.values(t.parts).includes(part.id))?.trick;
  const role = trick?.parts.find((q) => setup.planned.some((t) => t.parts[q.key] === part.id))?.role;
  const wipe = WIPE_OF[trick?.key ?? ''] ?? 'cart';
  if (role === 'in-side') return { wipe, wipe_side: 'in', scene: PLACES.find((p) => p.value !== setup.scene)!.value };
  return { wipe: role === 'out-side' ? wipe : 'none', wipe_side: 'out' };
}

/** The stand-in camera's rate closest to what the part's trick asks for, or to the delivery's. */
function rateOf(setup: SetupPage, part: PartWithTakes): number {
  const asked = setup.planned.flatMap(({ trick, parts }) =>
    trick.requirements
      .filter((r) => r.kind === 'rate-at-least' && r.parts.some((key) => parts[key] === part.id))
      .map((r) => r.tolerance ?? 0),
  );
  return nearestRate(Math.max(setup.shoot.delivery_fps, ...asked));
}

/** The stand-in camera's rate closest to one. */
function nearestRate(fps: number): number {
  return [24, 25, 30, 50].reduce((a, b) => (Math.abs(b - fps) < Math.abs(a - fps) ? b : a));
}

/** Watches the stand-in camera record: its picture and how far it is. */
function Recording({ roll, rollId }: { roll: Roll | null; rollId: string }) {
  const shown = useRef(0);
  const [tick, setTick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => {
      shown.current++;
      setTick(shown.current);
    }, 500);
    return () => clearInterval(timer);
  }, []);
  const started = roll && roll.frames_done > 6;
  return (
    <View style={styles.recording} testID="recording">
      {started && (
        <Image
          source={{ uri: `/api/rolls/${rollId}/preview?${tick}` }}
          style={styles.preview}
          accessibilityLabel="What the camera sees"
        />
      )}
      <Progress
        what={roll?.state === 'working' ? 'recording' : 'waiting for the camera'}
        done={roll?.frames_done ?? 0}
        total={roll?.frames_total ?? 0}
        unit="frames"
      />
    </View>
  );
}

const styles = StyleSheet.create({
  gap: { paddingTop: 24 },
  columns: { maxWidth: 720 },
  recording: { paddingVertical: 12, gap: 8 },
  preview: { width: '100%', aspectRatio: 16 / 9, backgroundColor: '#000' },
});
