import { byWorst } from '../../core/judge/verdicts';
import { useRouter } from 'expo-router';
import { useCallback, useRef, useState } from 'react';
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import type { Said, TakeReport } from '../../core/report/types';
import { Action } from '../components/action';
import { plain } from '../components/plain-number';
import { Disc } from '../components/disc';
import { Row } from '../components/row';
import { Screen, useWide } from '../components/screen';
import { Failed, Loading, Progress } from '../components/states';
import { VerdictCard } from '../components/verdict-card';
import { Body, Heading } from '../components/words';
import { useCircle, useSetup } from '../data/hooks';
import { useAsk, useCallTakeOff } from '../data/measure-hooks';
import type { TakePage } from '../../api/takes';
import { takeLine } from '../setup/take-line';
import { TakeViewer } from '../viewer/take-viewer';
import { JudgedCard } from './judged-card';
import { MeterCard } from './meter-card';
import { PresenceCard } from './presence-card';
import { MediaFactsTable } from './media-facts-table';

interface Props {
  take: TakePage;
  report: TakeReport | null;
  error: Error | null;
  startFrame: number | null;
}

/** One take: picture, ribbon, verdict, facts; on a wide screen with the setup's other takes beside it. */
export function TakeView({ take, report, error, startFrame }: Props) {
  const router = useRouter();
  const wide = useWide();
  const size = useWindowDimensions();
  const circle = useCircle();
  const again = useAsk('take', ['takes', 'setups']);
  const off = useCallTakeOff();
  const [chosen, setChosen] = useState<number | null>(startFrame);
  const frame = chosen ?? report?.lock.peak_frame ?? 0;
  const onFrame = useCallback((f: number) => setChosen(f), []);
  // Given to the screen in every state: the web's ScrollView takes its ref only when it is first mounted.
  const scroll = useRef<ScrollView>(null);
  // A frame asked for from the findings is shown: on a phone the picture may be scrolled away.
  const showFrame = useCallback((f: number) => {
    setChosen(f);
    scroll.current?.scrollTo({ y: 0, animated: false });
  }, []);
  const where = `${take.shoot.name} / setup ${take.setup.number}`;
  const title = `${take.part.name}, take ${take.number}`;
  const gate = () => router.push(`/setups/${take.setup.id}`);
  const sign = take.verdict ? <Disc verdict={take.verdict} size={44} /> : undefined;

  if (!report) {
    return (
      <Screen
        where={where}
        title={title}
        action={<Action quiet label={`Gate of setup ${take.setup.number}`} onPress={gate} />}
        scroll={scroll}
      >
        {take.state === 'waiting' && <Progress what="Waiting for its turn" done={0} total={0} unit="frames" />}
        {take.state === 'working' && (
          <View style={styles.measuring} testID="measuring">
            <Heading>Measuring movement, light, focus and who is in</Heading>
            <Progress
              what={
                take.doing ? take.doing.charAt(0).toUpperCase() + take.doing.slice(1) : 'Frames held against the first'
              }
              done={take.frames_done}
              total={take.frames_total}
              unit="frames"
            />
            <Body>Every frame is decoded once; the verdict follows at the end. You may leave this page.</Body>
          </View>
        )}
        {(take.state === 'waiting' || take.state === 'working') && (
          <View style={styles.off}>
            <Action
              quiet
              label={off.isPending ? 'Calling it off …' : 'Call it off'}
              disabled={off.isPending}
              onPress={() => off.mutate(take.id)}
              testID="call-off"
            />
          </View>
        )}
        {take.state === 'failed' && (
          <Failed
            error={new Error(take.failure ?? 'The take could not be measured.')}
            onAgain={() => again.mutate({ takes: [take.id] })}
          />
        )}
        {take.state === 'done' && (error ? <Failed error={error} /> : <Loading what="the report" />)}
      </Screen>
    );
  }
  const { lock } = report;
  const footing =
    lock.uncertainty_px === null
      ? 'Nothing in the picture could be followed.'
      : `Known to ${plain(lock.uncertainty_px)} px, from ${lock.patches.filter((q) => q.trust >= 0.2).length} ` +
        `still patches, against frame ${lock.reference_frame}. Judged at ${report.delivery.width} × ${report.delivery.height}.`;
  const viewer = (bleed: number, maxHeight?: number) => (
    <TakeViewer
      takeId={take.id}
      report={report}
      frame={Math.min(frame, report.media.frame_count - 1)}
      onFrame={onFrame}
      bleed={bleed}
      maxHeight={maxHeight}
    />
  );
  const { take: whole, light, focus } = report;
  const parts = [
    {
      verdict: lock,
      node: (
        <VerdictCard
          key="lock"
          verdict={lock}
          of="Lock"
          onFrame={showFrame}
          worstFrame={lock.peak_frame}
          footing={footing}
        />
      ),
    },
    {
      verdict: light,
      node: (
        <VerdictCard
          key="light"
          verdict={light}
          of="Light"
          onFrame={showFrame}
          worstFrame={light.reasons[0]?.frames[0]?.start ?? null}
          footing={
            light.uncertainty_stops === null
              ? undefined
              : `Read on the still background that nobody covers, known to ${light.uncertainty_stops.toFixed(3)} stop.`
          }
        />
      ),
    },
    {
      verdict: focus,
      node: <VerdictCard key="focus" verdict={focus} of="Focus" onFrame={showFrame} worstFrame={focus.worst_frame} />,
    },
  ];
  // The worst first; the lock before others of its kind; what nobody asked for last.
  const rank = ({ verdict }: Said) => verdict ?? 'holds';
  const card = (
    <>
      <JudgedCard take={take} report={report} onFrame={showFrame} />
      {[...parts].sort((a, b) => byWorst(rank(a.verdict), rank(b.verdict))).map((c) => c.node)}
      <PresenceCard presence={report.presence} onFrame={showFrame} />
      <MeterCard take={take} report={report} frame={Math.min(frame, report.media.frame_count - 1)} />
      <View>
        <Row
          href={`/setups/${take.setup.id}/compare?take=${take.id}`}
          title="Hold it against another take"
          text="Place, light and settings of the two, line by line"
          testID="to-compare"
        />
        <Row
          href={`/takes/${take.id}/moments`}
          title="Moments"
          text="Frames on which something happens, marks, and frames to hold"
          testID="to-moments"
        />
        <Row
          href={`/setups/${take.setup.id}/wipes?out=${take.id}`}
          title="Wipe bench"
          text="What covers the picture in this take, and the cut behind it"
          testID="to-wipes"
        />
        <Row
          href={`/setups/${take.setup.id}/plates?for=${take.id}`}
          title="Plate bench"
          text="The best empty picture for this take"
          testID="to-plates"
        />
      </View>
    </>
  );
  const circleAction = (
    <Action
      quiet={take.circled || whole.verdict === 'reshoot'}
      label={
        take.circled
          ? 'Circled. Tap to undo'
          : whole.verdict === 'reshoot'
            ? 'Circle it all the same'
            : 'Circle this take'
      }
      disabled={circle.isPending}
      testID="circle"
      onPress={() => circle.mutate({ id: take.id, circled: !take.circled })}
    />
  );
  const bad = whole.verdict === 'reshoot';
  const main = (
    <View style={styles.actions}>
      <Action quiet label="Gate" onPress={gate} style={styles.gate} testID="to-gate" />
      <View style={styles.main}>
        {bad ? (
          <Action
            label={`Roll ${take.part.name} again`}
            onPress={() => router.push(`/setups/${take.setup.id}/roll?part=${take.part.id}`)}
          />
        ) : (
          circleAction
        )}
      </View>
    </View>
  );
  if (!wide) {
    return (
      <Screen where={where} title={title} sign={sign} action={main} scroll={scroll}>
        {viewer(18)}
        <View style={styles.stack}>
          {card}
          {bad && circleAction}
          <MediaFactsTable media={report.media} />
        </View>
      </Screen>
    );
  }
  return (
    <Screen where={where} title={title} sign={sign} full>
      <View style={styles.wide}>
        {size.width >= 1180 && (
          <View style={styles.list}>
            <OtherTakes take={take} />
          </View>
        )}
        <View style={styles.picture}>
          {viewer(0, size.height - 330)}
          <MediaFactsTable media={report.media} />
        </View>
        <View style={styles.findings}>
          {card}
          {main}
          {bad && circleAction}
        </View>
      </View>
    </Screen>
  );
}

/** The setup's takes, for going from one to the next. */
function OtherTakes({ take }: { take: TakePage }) {
  const setup = useSetup(take.setup.id);
  return (
    <>
      {setup.data?.parts.flatMap((part) =>
        part.takes.map((t) => (
          <Row
            key={t.id}
            href={`/takes/${t.id}`}
            lead={<Disc verdict={t.verdict ?? 'unjudged'} size={24} />}
            selected={t.id === take.id}
            title={`${part.name}, take ${t.number}`}
            text={t.state === 'done' ? undefined : takeLine(t)}
          />
        )),
      )}
    </>
  );
}

const styles = StyleSheet.create({
  off: { paddingTop: 16 },
  measuring: { gap: 10, paddingTop: 24 },
  stack: { gap: 16, paddingTop: 8 },
  wide: { flexDirection: 'row', gap: 24, alignItems: 'flex-start' },
  list: { width: 190 },
  picture: { flex: 6, minWidth: 0 },
  findings: { flex: 4, minWidth: 300, gap: 16 },
  actions: { flexDirection: 'row', gap: 10 },
  gate: { width: 96 },
  main: { flex: 1 },
});
