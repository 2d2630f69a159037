import { useRouter } from 'expo-router';
import { useCallback, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { Disc } from '../components/disc';
import { Row } from '../components/row';
import { Screen, useWide } from '../components/screen';
import { Empty, Failed } from '../components/states';
import { UnderWay } from '../components/under-way';
import { useUndo } from '../components/undo';
import { VerdictCard } from '../components/verdict-card';
import { Body, Heading, Mono, Soft } from '../components/words';
import { TwoPictures } from '../compare/two-pictures';
import { useReport } from '../data/hooks';
import { useAsk, useDropMeasure, useMakeAgain } from '../data/measure-hooks';
import { platePicture, useKeepPlate } from '../data/plate-hooks';
import { saveFile } from '../data/save-file';
import type { Plate, PlateBenchPage, PlateOffer } from '../../api/plates';
import { ChoiceField } from '../forms/fields';
import { FormDialog } from '../forms/form-dialog';
import { framePicture } from '../viewer/frame-picture';
import { Ribbon } from '../viewer/ribbon';
import { takeBands } from '../viewer/take-bands';
import { OfferList, offerKey, PlateList } from './offer-list';
import { PlateFacts } from './plate-facts';

interface Props {
  bench: PlateBenchPage;
  onFor: (takeId: string) => void;
}

/** Empty pictures of a setup: find the best, make a plate of it, hold it beside the take, keep it, save it. */
export function PlateBench({ bench, onFor }: Props) {
  const wide = useWide();
  const make = useAsk('plate', ['bench']);
  const drop = useDropMeasure(['bench']);
  const undo = useUndo();
  const [grain, setGrain] = useState<'smooth' | 'grain'>('smooth');
  const [chosen, setChosen] = useState<string | null>(null);
  const plates = bench.plates.filter((p) => p.against_id === bench.forId);
  const plate = plates.find((p) => p.id === chosen) ?? plates[0] ?? null;
  const nameOf = useCallback(
    (p: Plate) => {
      const take = bench.takes.find((t) => t.id === p.take_id);
      const from = take ? `${take.partName}, take ${take.number}` : 'a take';
      const { run, keep_grain: grainy } = p.wish;
      const how = run ? `frames ${run.start} to ${run.end}` : 'stitched';
      return `${from}, ${how}${grainy ? ', with its grain' : ''}`;
    },
    [bench.takes],
  );
  const where = `${bench.shoot.name} / setup ${bench.setup.number}`;
  if (bench.takes.length === 0 || bench.forId === null) {
    return (
      <Screen where={where} title="Plate bench">
        <Empty
          title="No measured take yet"
          text="Roll a part of this setup first. Every run of frames in which nobody is in the picture is offered here as a plate."
        />
      </Screen>
    );
  }
  const forId = bench.forId;
  const onOffer = (o: PlateOffer) =>
    make.mutate(
      { takes: [o.takeId, forId], wish: { run: o.run, keep_grain: grain === 'grain' } },
      { onSuccess: (made) => setChosen(made.id) },
    );
  const remove = (p: Plate) =>
    drop.mutate(
      { id: p.id, on: true },
      { onSuccess: () => undo({ text: 'Plate removed.', undo: () => drop.mutate({ id: p.id, on: false }) }) },
    );
  const shownOffer = plate && offerKey({ takeId: plate.take_id, run: plate.wish.run });
  const offers = (
    <View>
      <ChoiceField
        name="A plate for"
        value={forId}
        onChange={(id) => {
          setChosen(null);
          onFor(id);
        }}
        options={bench.takes.map((t) => ({ value: t.id, label: `${t.partName} ${t.number}` }))}
        testID="plate-for"
      />
      <Heading style={styles.head}>Empty pictures in the takes</Heading>
      {bench.offers.length === 0 && (
        <Body>{`No take of this setup shows an empty picture.${bench.without[0] ? ` ${bench.without[0].why}` : ''} Roll a plate.`}</Body>
      )}
      <OfferList offers={bench.offers} across={!wide} chosen={shownOffer} onChoose={onOffer} />
      <ChoiceField
        name="Grain"
        value={grain}
        onChange={setGrain}
        options={[
          { value: 'smooth', label: 'Averaged, smooth' },
          { value: 'grain', label: 'One frame’s own' },
        ]}
        testID="plate-grain"
      />
      {make.error && <Failed error={make.error} />}
      {bench.without.length > 0 && bench.offers.length > 0 && (
        <Soft
          style={styles.note}
        >{`No plate from ${bench.without.map((w) => `${w.partName}, take ${w.takeNumber}`).join('; ')}: ${bench.without[0].why}`}</Soft>
      )}
      {plates.length > 0 && <Heading style={styles.head}>Plates made</Heading>}
      <PlateList plates={plates} chosen={plate?.id ?? null} onChoose={setChosen} nameOf={nameOf} />
    </View>
  );
  const idle = (
    <View style={styles.idle}>
      <Heading>Tap an empty picture to make a plate of it</Heading>
      <Body>Its frames are averaged at full size and laid beside the take, with what differs between them.</Body>
    </View>
  );
  const view = plate ? <PlateBeside key={plate.id} bench={bench} plate={plate} bleed={wide ? 0 : 18} /> : idle;
  const findings = plate && (
    <PlateFindings bench={bench} plate={plate} name={nameOf(plate)} onRemove={() => remove(plate)} />
  );
  const sign = plate?.verdict ? <Disc verdict={plate.verdict.verdict} size={44} /> : undefined;
  if (!wide) {
    return (
      <Screen where={where} title="Plate bench" sign={sign} action={<KeepAction bench={bench} plate={plate} />}>
        {view}
        {findings}
        {offers}
      </Screen>
    );
  }
  return (
    <Screen where={where} title="Plate bench" sign={sign} full>
      <View style={styles.wide}>
        <View style={styles.list}>{offers}</View>
        <View style={styles.picture}>{view}</View>
        <View style={styles.findings}>
          {findings}
          <KeepAction bench={bench} plate={plate} />
        </View>
      </View>
    </Screen>
  );
}

/** The plate beside the take, frame by frame. */
function PlateBeside({ bench, plate, bleed }: { bench: PlateBenchPage; plate: Plate; bleed: number }) {
  const report = useReport(plate.against_id ?? '', plate.against_id !== null);
  const again = useMakeAgain();
  const take = bench.takes.find((t) => t.id === plate.against_id);
  const [frame, setFrame] = useState<number | null>(null);
  const bands = useMemo(
    () => (report.data ? takeBands(report.data).filter((b) => b.name === 'light' || b.name === 'who is in') : []),
    [report.data],
  );
  const count = take?.frameCount ?? 1;
  const at = frame ?? busiest(report.data?.presence.path.area_share ?? []) ?? count >> 1;
  const go = useCallback((to: number) => setFrame(Math.max(0, Math.min(count - 1, to))), [count]);
  const step = useCallback((by: number) => go(at + by), [go, at]);
  if (plate.state === 'failed')
    return (
      <Failed
        error={new Error(plate.failure ?? 'The plate could not be made.')}
        onAgain={() => again.mutate(plate.id)}
      />
    );
  if (plate.state !== 'done' || !take) {
    return (
      <View style={styles.idle} testID="plate-making">
        <Heading>Making the plate</Heading>
        <UnderWay work={plate} what={plate.doing || 'being made'} />
      </View>
    );
  }
  const c = plate.result?.comparison;
  return (
    <View style={styles.stack}>
      <TwoPictures
        first={{ uri: framePicture(take.id, at), name: `${take.partName}, take ${take.number}, frame ${at}` }}
        second={{ uri: platePicture(plate.id), name: 'plate' }}
        width={take.width}
        height={take.height}
        bleed={bleed}
        onStep={step}
        layOn={c?.offset ?? null}
        marks={{ moved: c?.moved ?? [], intruders: c?.intruders ?? [], unseen: plate.result?.source.unseen ?? [] }}
      />
      <Mono>{`frame ${at} of ${count - 1} of the take`}</Mono>
      {bands.length > 0 && <Ribbon bands={bands} frame={at} onFrame={go} />}
    </View>
  );
}

/** The frame in which most of the picture is taken: what a plate is for. */
function busiest(area: readonly (number | null)[]): number | null {
  let best: number | null = null;
  area.forEach((a, f) => {
    if (a !== null && a > 0 && (best === null || a > (area[best] ?? 0))) best = f;
  });
  return best;
}

function PlateFindings({
  bench,
  plate,
  name,
  onRemove,
}: {
  bench: PlateBenchPage;
  plate: Plate;
  name: string;
  onRemove: () => void;
}) {
  const [clip, setClip] = useState(false);
  const { result: made, verdict } = plate;
  if (!made || !verdict) return null;
  const href = (query: string) => `/api/plates/${plate.id}/file?${query}`;
  const size = `${bench.shoot.delivery_width} × ${bench.shoot.delivery_height}`;
  return (
    <View style={styles.stack}>
      <VerdictCard verdict={verdict} of="Plate" onFrame={() => undefined} worstFrame={null} footing={name} />
      <PlateFacts plate={plate} />
      <View>
        <Heading style={styles.head}>Save it</Heading>
        <View style={styles.saves}>
          <Action
            quiet
            icon="image-outline"
            label={`PNG, ${made.width} × ${made.height}, ${made.bit_depth} bit`}
            onPress={() => saveFile(href('as=full'))}
            testID="save-full"
          />
          <Action
            quiet
            icon="image-size-select-large"
            label={`PNG at delivery, ${size}`}
            onPress={() => saveFile(href('as=delivery'))}
            testID="save-delivery"
          />
          <Action
            quiet
            icon="movie-outline"
            label="Still clip at delivery"
            onPress={() => setClip(true)}
            testID="save-clip"
          />
          <Action quiet icon="trash-can-outline" label="Remove this plate" onPress={onRemove} testID="remove-plate" />
        </View>
      </View>
      <FormDialog
        visible={clip}
        title="Still clip"
        submit="Save it"
        busy={false}
        error={null}
        onClose={() => setClip(false)}
        text={`${size} at ${bench.shoot.delivery_fps} fps.`}
        fields={[{ key: 'seconds', label: 'Length, s (0.1 to 60)', initial: '5', numeric: true, required: true }]}
        onSubmit={(v) => {
          const seconds = Number(v.seconds.replace(',', '.'));
          if (!(seconds >= 0.1 && seconds <= 60)) return;
          saveFile(href(`as=clip&seconds=${seconds}`));
          setClip(false);
        }}
      />
    </View>
  );
}

/** The one thing to do: make the plate count. */
function KeepAction({ bench, plate }: { bench: PlateBenchPage; plate: Plate | null }) {
  const router = useRouter();
  const keep = useKeepPlate();
  const [asking, setAsking] = useState(false);
  const gate = (
    <Action
      quiet
      label="Gate"
      onPress={() => router.push(`/setups/${bench.setup.id}`)}
      style={styles.gate}
      testID="to-gate"
    />
  );
  if (!plate || plate.state !== 'done') return <View style={styles.actions}>{gate}</View>;
  if (plate.kept_as)
    return (
      <View style={styles.actions}>
        {gate}
        <Action
          quiet
          label="Kept: see the take"
          onPress={() => router.push(`/takes/${plate.kept_as}`)}
          style={styles.main}
          testID="see-kept"
        />
      </View>
    );
  const send = (partId: string) => keep.mutate({ id: plate.id, partId }, { onSuccess: () => setAsking(false) });
  const [only] = bench.parts;
  return (
    <View style={styles.stack}>
      {keep.error && <Failed error={keep.error} />}
      {asking &&
        bench.parts.map((part) => (
          <Row
            key={part.id}
            title={part.name}
            trail={<Action quiet label="Keep here" onPress={() => send(part.id)} />}
          />
        ))}
      <View style={styles.actions}>
        {gate}
        {bench.parts.length > 0 && (
          <Action
            label={bench.parts.length === 1 ? `Keep as ${only.name}` : 'Keep as a part’s plate'}
            disabled={keep.isPending}
            style={styles.main}
            testID="keep-plate"
            onPress={() => (bench.parts.length === 1 ? send(only.id) : setAsking(!asking))}
          />
        )}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 14, paddingBottom: 4 },
  note: { paddingTop: 8 },
  idle: { gap: 6, paddingVertical: 12 },
  stack: { gap: 12 },
  saves: { gap: 8 },
  wide: { flexDirection: 'row', gap: 24, alignItems: 'flex-start' },
  list: { width: 300 },
  picture: { flex: 6, minWidth: 0 },
  findings: { flex: 4, minWidth: 280, gap: 16 },
  actions: { flexDirection: 'row', gap: 10 },
  gate: { width: 96 },
  main: { flex: 1 },
});
