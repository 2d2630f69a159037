import { MaterialCommunityIcons } from '@expo/vector-icons';
import { Link, type Href } from 'expo-router';
import { useState, type ReactNode } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import type { Gate, GateTrick } from '../../core/gate/gate';
import { byWorst } from '../../core/judge/verdicts';
import type { RequirementKind } from '../../core/tricks/types';
import { ZONE_KINDS } from '../../core/tricks/zones';
import { Disc } from '../components/disc';
import { Failed } from '../components/states';
import { Heading, Mono, Soft, Strong } from '../components/words';
import { usePerson } from '../data/person';
import { useEyeCheck } from '../data/plan-hooks';
import { FormDialog } from '../forms/form-dialog';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

type Judged = GateTrick['requirements'][number];

/** What somebody must do about: it fails, or waits for somebody's eye. */
const isOpen = (r: Judged) => r.applies && r.ready && !r.pending && r.verdict !== 'holds';

/** What is open of a setup's tricks, the worst first. */
export function OpenRequirements({ gate, setupId }: { gate: Gate; setupId: string }) {
  const open = gate.tricks.flatMap((t) => t.requirements.filter(isOpen).map((r) => ({ t, r })));
  open.sort((a, b) => byWorst(a.r.verdict, b.r.verdict));
  return (
    <Ticking>
      {(tick) =>
        open.length > 0 && (
          <View testID="open">
            {open.map(({ t, r }) => (
              <View key={`${t.id}${r.key}`}>
                <RequirementRow r={r} trick={t.name} onTick={() => tick(t.id, r)} />
                <WayThere r={r} gate={gate} setupId={setupId} plannedId={t.id} />
              </View>
            ))}
          </View>
        )
      }
    </Ticking>
  );
}

/** Each trick in one line, with how much of it holds; a tap opens it. */
export function FoldedRequirements({ gate, setupId }: { gate: Gate; setupId: string }) {
  const p = usePalette();
  const [opened, setOpened] = useState<readonly string[]>([]);
  return (
    <Ticking>
      {(tick) =>
        gate.tricks.map((t) => {
          const all = t.requirements.filter((r) => r.applies),
            holds = all.filter((r) => r.verdict === 'holds').length,
            open = opened.includes(t.id);
          return (
            <View key={t.id} testID={`judged-${t.name}`}>
              <Pressable
                role="button"
                aria-expanded={open}
                onPress={() => setOpened(open ? opened.filter((id) => id !== t.id) : [...opened, t.id])}
                style={[styles.fold, { borderBottomColor: p.line }]}
                testID={`fold-${t.name}`}
              >
                <Heading style={styles.words}>{t.name}</Heading>
                <Mono>{`${holds} of ${all.length} hold`}</Mono>
                <MaterialCommunityIcons name={open ? 'chevron-up' : 'chevron-down'} size={24} color={p.ink} />
              </Pressable>
              {open &&
                all
                  .filter((r) => !isOpen(r))
                  .map((r) => (
                    <View key={r.key}>
                      <RequirementRow r={r} onTick={() => tick(t.id, r)} />
                      <WayThere r={r} gate={gate} setupId={setupId} plannedId={t.id} />
                    </View>
                  ))}
            </View>
          );
        })
      }
    </Ticking>
  );
}

/** Ticks what somebody saw, and asks who it was where that is not known yet. */
function Ticking({ children }: { children: (tick: (plannedId: string, r: Judged) => void) => ReactNode }) {
  const check = useEyeCheck();
  const [person, setPerson] = usePerson();
  const [asking, setAsking] = useState<{ plannedId: string; key: string } | null>(null);
  const tick = (plannedId: string, r: Judged) => {
    if (r.eye) check.mutate({ plannedId, key: r.key, done: false, at: new Date().toISOString() });
    else if (person.trim())
      check.mutate({ plannedId, key: r.key, done: true, by: person.trim(), at: new Date().toISOString() });
    else setAsking({ plannedId, key: r.key });
  };
  return (
    <>
      {children(tick)}
      {check.error && <Failed error={check.error} />}
      <FormDialog
        visible={asking !== null}
        title="Who looked?"
        submit="Tick it"
        busy={check.isPending}
        error={check.error}
        onClose={() => setAsking(null)}
        text="Your name stands beside what you tick by eye, with the time."
        fields={[{ key: 'name', label: 'Your name', required: true }]}
        onSubmit={(v) => {
          setPerson(v.name.trim());
          if (asking)
            check.mutate(
              { ...asking, done: true, by: v.name.trim(), at: new Date().toISOString() },
              { onSuccess: () => setAsking(null) },
            );
        }}
      />
    </>
  );
}

function RequirementRow({ r, trick, onTick }: { r: Judged; trick?: string; onTick: () => void }) {
  const p = usePalette();
  const mayTick = r.byEye;
  const when = r.eye
    ? new Date(r.eye.at).toLocaleString([], { day: '2-digit', month: '2-digit', hour: '2-digit', minute: '2-digit' })
    : '';
  return (
    <Pressable
      role={mayTick ? 'checkbox' : undefined}
      aria-checked={mayTick ? Boolean(r.eye) : undefined}
      disabled={!mayTick}
      onPress={onTick}
      testID={`judged-${r.key}`}
      accessibilityLabel={mayTick ? `${r.name}, ${r.partNames.join(', ')}: ${r.says}. Checked by eye` : undefined}
      style={[styles.row, { borderBottomColor: p.line }]}
    >
      <Disc verdict={r.verdict} size={26} />
      <View style={styles.words}>
        <Strong>{r.name}</Strong>
        <Mono>{[trick, r.partNames.join(', ')].filter(Boolean).join(': ')}</Mono>
        <Soft>
          {r.verdict === 'unjudged' && mayTick ? `${r.says}; ${r.text}` : when ? `${r.text}, ${when}` : r.text}
        </Soft>
        {r.fix && !r.byEye ? <Soft>{r.fix}</Soft> : null}
      </View>
      {mayTick && (
        <MaterialCommunityIcons
          name={r.eye ? 'checkbox-marked' : 'checkbox-blank-outline'}
          size={28}
          color={r.eye ? p.holds : p.soft}
        />
      )}
    </Pressable>
  );
}

/** Kinds that are seen on the bench of their take's moments, and on that of two passes. */
const BY_MOMENTS: RequirementKind[] = [
  'beats-marked',
  'sharp-at',
  'inside-frame',
  'cloth-hides',
  'drifts-little',
  'cut-out-frames',
];
const BY_PASSES: RequirementKind[] = ['apart', 'hidden-at', 'same-spot', 'opposite-direction'];

/** Where a requirement is seen, and put right. */
function WayThere({ r, gate, setupId, plannedId }: { r: Judged; gate: Gate; setupId: string; plannedId: string }) {
  const p = usePalette();
  const takes = r.partIds.map((id) => gate.rows.find((row) => row.partId === id)?.takeId);
  const place =
    BY_MOMENTS.includes(r.kind) && takes[0]
      ? { to: `/takes/${takes[0]}/moments`, name: 'the moments' }
      : ZONE_KINDS.includes(r.kind)
        ? { to: `/setups/${setupId}/zone?planned=${plannedId}`, name: 'the zone' }
        : BY_PASSES.includes(r.kind)
          ? {
              to: `/setups/${setupId}/passes${takes[0] && takes[1] ? `?first=${takes[0]}&second=${takes[1]}` : ''}`,
              name: 'the pass bench',
            }
          : null;
  if (!r.ready || !place) return null;
  const { to, name } = place;
  return (
    <Link href={to as Href} asChild>
      <Pressable
        role="link"
        style={StyleSheet.flatten([styles.way, { borderBottomColor: p.line }])}
        testID={`way-${r.key}`}
        accessibilityLabel={`${r.name}: ${name}`}
      >
        <Strong>{`Open ${name}`}</Strong>
        <MaterialCommunityIcons name="chevron-right" size={22} color={p.ink} />
      </Pressable>
    </Link>
  );
}

const styles = StyleSheet.create({
  fold: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: TOUCH + 4, borderBottomWidth: 1 },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    paddingVertical: 9,
    borderBottomWidth: 1,
    minHeight: TOUCH + 4,
  },
  words: { flex: 1, minWidth: 0 },
  way: {
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'space-between',
    minHeight: TOUCH,
    paddingLeft: 38,
    borderBottomWidth: 1,
  },
});
