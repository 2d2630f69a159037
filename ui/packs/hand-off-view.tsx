import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import type { ShootInList } from '../../api/plan';
import type { PackWish } from '../../core/packs/types';
import { Action } from '../components/action';
import { Screen, useWide } from '../components/screen';
import { Empty, Failed, Loading } from '../components/states';
import { ToolButton } from '../components/tool-button';
import { Body, Heading, Soft } from '../components/words';
import { underWay, useShoots } from '../data/hooks';
import { useHandOff, useMakePack } from '../data/pack-hooks';
import { PackChoices } from './pack-choices';
import { PackList } from './pack-list';
import { MissingList, ReadyList } from './ready-list';

const USUAL: PackWish = { recordings: false, mattes: false, plates: true, takes: 'circled' };

/** The place of handing off: what is ready, what is missing and who can mend it, one button, and the packs made last. */
export function HandOffView() {
  const shoots = useShoots();
  const live = shoots.data?.filter((s) => !s.archived && !s.deleted) ?? [];
  const [chosen, setChosen] = useState<string | null>(null);
  const [choosing, setChoosing] = useState(false);
  const shoot = live.find((s) => s.id === chosen) ?? live.find((s) => s.takes > 0) ?? live[0];
  if (choosing)
    return (
      <Screen where="Hand off" title="Which shoot?">
        <View style={styles.shoots}>
          {live.map((s) => (
            <Action
              key={s.id}
              quiet
              label={s.name}
              testID={`of-shoot-${s.name}`}
              onPress={() => {
                setChosen(s.id);
                setChoosing(false);
              }}
            />
          ))}
        </View>
      </Screen>
    );
  if (shoot) {
    const onOther = live.length > 1 ? () => setChoosing(true) : null;
    return <OfShoot key={shoot.id} shoot={shoot} onOther={onOther} />;
  }
  return (
    <Screen where="Hand off" title="Packs">
      {shoots.isPending && <Loading what="the shoots" />}
      {shoots.error && !shoots.data && <Failed error={shoots.error} onAgain={shoots.refetch} />}
      {shoots.data && <Empty title="No shoot yet" text="Make a shoot and a setup under Plan first." />}
    </Screen>
  );
}

interface OfShootProps {
  shoot: ShootInList;
  /** Leads to the choice of another; null where there is none. */
  onOther: (() => void) | null;
}

function OfShoot({ shoot, onOther }: OfShootProps) {
  const wide = useWide();
  const handOff = useHandOff(shoot.id);
  const make = useMakePack(shoot.id);
  const [wish, setWish] = useState(USUAL);
  const [scope, setScope] = useState<{ setup_id: string | null; planned_id: string | null }>({
    setup_id: null,
    planned_id: null,
  });
  const data = handOff.data;
  const setup = data?.setups.find((s) => s.id === scope.setup_id);
  const trick = setup?.tricks.find((t) => t.id === scope.planned_id);
  const of = trick ? `“${trick.name}”` : setup ? `setup ${setup.number}` : 'the shoot';
  const busy = make.isPending || Boolean(data?.packs.some(underWay));
  const ready = data && (
    <View style={wide && styles.column}>
      <ReadyList setups={data.setups} chosen={scope} onChoose={setScope} />
    </View>
  );
  const rest = data && (
    <View style={wide && styles.column}>
      <Heading style={styles.space}>What is missing</Heading>
      <MissingList setups={data.setups} />
      <Heading style={styles.space}>What goes along</Heading>
      <PackChoices
        wish={wish}
        recordings={data.recordings_bytes}
        allRecordings={data.all_recordings_bytes}
        leftByAll={data.left_behind_by_all}
        onWish={setWish}
      />
      {!busy && <PackList packs={data.packs} />}
    </View>
  );
  return (
    <Screen
      where={`Hand off · ${shoot.name}`}
      title="For whoever draws the masks"
      full
      sign={
        onOther && <ToolButton icon="swap-horizontal" label="Another shoot" onPress={onOther} testID="choose-shoot" />
      }
      action={
        data &&
        data.setups.length > 0 && (
          <View>
            {make.error && <Body>{make.error.message}</Body>}
            <Action
              label={busy ? 'Being made …' : `Make the pack of ${of}`}
              icon="package-variant-closed"
              disabled={busy}
              onPress={() => make.mutate({ ...scope, ...wish })}
              testID="make-pack"
            />
          </View>
        )
      }
    >
      {handOff.isPending && <Loading what="what is ready" />}
      {handOff.error && !data && <Failed error={handOff.error} onAgain={handOff.refetch} />}
      {data && data.setups.length === 0 && (
        <Empty
          title="Nothing to hand off yet"
          text="Put a trick on a setup and roll it. Its pages, timelines, plates and masks can then be handed off here."
        />
      )}
      {data && (
        <>
          <Soft>
            A pack holds a page for each trick, timelines, lists, marks, plates, masks and camera paths, and hashes of
            all.
          </Soft>
          {/* What is being made is seen at once. */}
          {busy && <PackList packs={data.packs} />}
          <View style={wide && styles.columns}>
            {ready}
            {rest}
          </View>
        </>
      )}
    </Screen>
  );
}

const styles = StyleSheet.create({
  columns: { flexDirection: 'row', gap: 32, alignItems: 'flex-start' },
  column: { flex: 1, minWidth: 0 },
  space: { paddingTop: 18 },
  shoots: { gap: 10, paddingTop: 8 },
});
