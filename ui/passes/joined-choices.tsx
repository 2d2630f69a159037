import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { Body, Heading, Mono, Soft } from '../components/words';
import { ChoiceField } from '../forms/fields';
import { SlideField } from '../forms/slide-field';
import type { PassTake } from '../../api/passes';
import { MomentChoice, OverChoice } from './moment-choices';
import { JOINED_HOWS, JOINING_WAYS } from '../../core/measures/joined/joining-ways';
import type { Passing } from './use-passing';

interface Props {
  passing: Passing;
  setupId: string;
  frame: number;
  frameCount: number;
  onFrame: (frame: number) => void;
  first: PassTake;
  second: PassTake;
}

const HOWS = JOINED_HOWS.map((value) => ({ value, label: JOINING_WAYS[value].name }));

/** How the two are joined, with what that wants to know. */
export function JoinedChoices({ passing, setupId, frame, frameCount, onFrame, first, second }: Props) {
  const router = useRouter();
  const { wish, change, hide, zone } = passing;
  const { how, at, strength } = wish;
  return (
    <View style={styles.stack} testID="joined-choices">
      <Heading>How they are joined</Heading>
      <ChoiceField
        name="Joined"
        value={how}
        onChange={(v) => change({ how: v, line: null, at: null })}
        options={HOWS}
        testID="joined-how"
      />
      {how === 'line' && <Soft>Each on its own side of the line, from first to last.</Soft>}
      {how === 'switch' && (
        <>
          <Body>
            {at === null
              ? 'Nobody is hidden whole in the first. Choose the frame from which the second stands alone.'
              : `Until frame ${at} the second stands on one side of the line only; from there on it stands alone.`}
          </Body>
          <View style={styles.row}>
            <Action
              quiet
              label={`Switch at frame ${frame}`}
              style={styles.half}
              onPress={() => change({ at: frame })}
              testID="switch-here"
            />
            {at !== null && at !== frame && (
              <Action quiet label={`Show frame ${at}`} style={styles.half} onPress={() => onFrame(at)} />
            )}
          </View>
          {hide?.switch_frame !== null && hide && at !== hide.switch_frame && (
            <Action
              quiet
              label={`Where they are hidden: frame ${hide.switch_frame}`}
              onPress={() => change({ at: null })}
              testID="switch-measured"
            />
          )}
        </>
      )}
      {(how === 'cut' || how === 'held' || how === 'cloth' || how === 'edge') && (
        <MomentChoice passing={passing} first={first} second={second} frame={frame} onFrame={onFrame} />
      )}
      {how === 'figure' && (
        <Soft>
          {`${zone ? 'What is in the zone' : 'Whoever is in'} is cut out of ${first.label} and laid over ${second.label}: ` +
            'seen in the proof; here both are mixed half and half.'}
        </Soft>
      )}
      <ChoiceField
        name="The second: place and light"
        value={wish.even === false ? 'shot' : 'even'}
        onChange={(v) => change({ even: v === 'even' })}
        options={[
          { value: 'even', label: 'Made to match' },
          { value: 'shot', label: 'As it was shot' },
        ]}
        testID="second-shown"
      />
      {how === 'over' && <OverChoice passing={passing} first={first} second={second} />}
      {how === 'through' && (
        <StrengthKeys strength={strength} frame={frame} frameCount={frameCount} change={change} onFrame={onFrame} />
      )}
      {how === 'opening' && (
        <>
          {!zone && (
            <Body>
              No opening is drawn yet. Draw it once on the reference picture; it serves every take of the setup.
            </Body>
          )}
          <Action
            quiet
            label={zone ? 'The opening' : 'Draw the opening'}
            onPress={() => router.push(`/setups/${setupId}/zone`)}
            testID="to-zone"
          />
          {zone && second.plate && (
            <>
              <Body>
                {at === null
                  ? `${second.label} shows in it from first to last.`
                  : `${second.label} shows in it from frame ${at} on.`}
              </Body>
              <View style={styles.row}>
                <Action
                  quiet
                  label={`From frame ${frame} on`}
                  style={styles.half}
                  onPress={() => change({ at: frame })}
                  testID="opening-from"
                />
                {at !== null && at !== frame && (
                  <Action quiet label={`Show frame ${at}`} style={styles.half} onPress={() => onFrame(at)} />
                )}
              </View>
            </>
          )}
          {zone && (
            <>
              <SlideField
                label="Light in the opening"
                said={`${wish.lift_stops > 0 ? '+' : ''}${wish.lift_stops.toFixed(1)} stop`}
                value={wish.lift_stops}
                least={-3}
                most={3}
                step={0.1}
                onChange={(v) => change({ lift_stops: v })}
                testID="opening-lift"
              />
              <SlideField
                label="Feather of its edge"
                said={`${passing.feather.toFixed(0)} px`}
                value={passing.feather}
                least={0}
                most={60}
                step={1}
                onChange={(v) => change({ feather_px: v })}
                testID="opening-feather"
              />
            </>
          )}
        </>
      )}
    </View>
  );
}

type StrengthProps = Pick<Props, 'frame' | 'frameCount' | 'onFrame'> & {
  strength: Passing['wish']['strength'];
  change: Passing['change'];
};

/** How strongly the first shows, set at a few frames; between them it changes evenly. */
function StrengthKeys({ strength, frame, frameCount, change, onFrame }: StrengthProps) {
  const keys = [...strength].sort((a, b) => a.frame - b.frame);
  const here = keys.find((k) => k.frame === frame);
  // A single one holds for the whole take, wherever it was set.
  const only = keys.length < 2 ? keys[0] : null;
  const pct = here?.pct ?? only?.pct ?? null;
  const set = (v: number) =>
    change({
      strength: only && !here ? [{ ...only, pct: v }] : [...keys.filter((k) => k.frame !== frame), { frame, pct: v }],
    });
  return (
    <View testID="strength">
      {pct === null ? (
        <Body>{`Nothing is set at frame ${frame}: there it changes evenly from one to the next.`}</Body>
      ) : (
        <SlideField
          label={only ? 'Strength of the first' : `Strength of the first at frame ${frame}`}
          said={`${pct.toFixed(0)} %`}
          value={pct}
          least={0}
          most={100}
          step={1}
          onChange={set}
          testID="strength-pct"
        />
      )}
      <View style={styles.row}>
        {!here && (
          <Action
            quiet
            style={styles.half}
            label={`Set it at frame ${frame}`}
            onPress={() => change({ strength: [...keys, { frame, pct: pct ?? keys[keys.length - 1]?.pct ?? 50 }] })}
            testID="strength-here"
          />
        )}
        {here && keys.length > 1 && (
          <Action
            quiet
            style={styles.half}
            label="Drop it here"
            onPress={() => change({ strength: keys.filter((k) => k !== here) })}
            testID="strength-drop"
          />
        )}
      </View>
      {keys.length > 1 && (
        <View style={styles.keys}>
          {keys.map((k) => (
            <Action
              key={k.frame}
              quiet
              label={`${k.frame}: ${k.pct.toFixed(0)} %`}
              onPress={() => onFrame(Math.min(frameCount - 1, k.frame))}
            />
          ))}
        </View>
      )}
      <Mono>0 % is the second alone</Mono>
    </View>
  );
}

const styles = StyleSheet.create({
  stack: { gap: 8 },
  row: { flexDirection: 'row', gap: 8 },
  half: { flex: 1 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, paddingVertical: 8 },
});
