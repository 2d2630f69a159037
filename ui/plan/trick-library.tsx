import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { ownTrick, TRICKS } from '../../core/tricks/library/library';
import { REQUIREMENT_KINDS, statement } from '../../core/tricks/requirement-kinds';
import type { Trick } from '../../core/tricks/types';
import { SUM_SHEETS } from '../../core/calculators/sheets';
import { Action } from '../components/action';
import { Screen, useWide } from '../components/screen';
import { Failed } from '../components/states';
import { Body, Heading, Mono, Soft, Strong } from '../components/words';
import { usePutTrick } from '../data/plan-hooks';
import type { SetupPage } from '../../api/boards';
import { FormDialog } from '../forms/form-dialog';
import { TextField } from '../forms/fields';
import { usePalette } from '../theme/theme';

/** The library, to put a trick on a setup; one tap shows what it asks for, another plans it. */
export function TrickLibrary({ setup }: { setup: SetupPage }) {
  const router = useRouter();
  const wide = useWide();
  const put = usePutTrick(setup.id);
  const [open, setOpen] = useState<string | null>(null);
  const [search, setSearch] = useState('');
  const [composing, setComposing] = useState(false);
  const words = search.trim().toLowerCase();
  const shown = TRICKS.filter((t) => !words || `${t.name} ${t.summary}`.toLowerCase().includes(words));
  const chosen = shown.find((t) => t.key === open);
  const plan = (key: string) => put.mutate({ key }, { onSuccess: () => router.replace(`/setups/${setup.id}/plan`) });
  return (
    <Screen
      where={`${setup.shoot.name} / setup ${setup.number}`}
      title="Choose a trick"
      full={wide}
      action={
        chosen ? (
          <Action
            label={`Put ${chosen.name} on this setup`}
            disabled={put.isPending}
            onPress={() => plan(chosen.key)}
            testID={`put-${chosen.key}`}
          />
        ) : (
          <Action
            quiet
            label="Compose one of your own"
            icon="pencil-plus-outline"
            onPress={() => setComposing(true)}
            testID="compose"
          />
        )
      }
    >
      <TextField label="Find a trick" value={search} onChange={setSearch} testID="find-trick" />
      {put.error && <Failed error={put.error} />}
      {shown.length === 0 && <Body style={styles.none}>No trick of that name. Compose one of your own below.</Body>}
      <View style={wide ? styles.grid : undefined}>
        {shown.map((t) => (
          <View key={t.key} style={wide ? styles.cell : undefined}>
            <TrickCard trick={t} open={open === t.key} onToggle={() => setOpen(open === t.key ? null : t.key)} />
          </View>
        ))}
      </View>
      <FormDialog
        visible={composing}
        title="A trick of your own"
        submit="Go on"
        busy={put.isPending}
        error={put.error}
        onClose={() => setComposing(false)}
        text="It starts with a plate and a pass; add parts and say what must be true."
        fields={[{ key: 'name', label: 'Name', required: true }]}
        onSubmit={(v) =>
          put.mutate(
            { trick: ownTrick(v.name.trim()) },
            {
              onSuccess: (made) => {
                setComposing(false);
                router.replace(`/planned/${made.id}`);
              },
            },
          )
        }
      />
    </Screen>
  );
}

function TrickCard({ trick, open, onToggle }: { trick: Trick; open: boolean; onToggle: () => void }) {
  const p = usePalette();
  return (
    <View style={[styles.card, { borderBottomColor: p.line }, open && { backgroundColor: p.card }]}>
      <Pressable
        role="button"
        aria-expanded={open}
        onPress={onToggle}
        style={styles.top}
        testID={`library-${trick.key}`}
      >
        <Strong>{trick.name}</Strong>
        <Soft>{trick.summary}</Soft>
        <Mono>
          {`${trick.camera === 'still' ? 'camera locked' : 'camera moves'} · ` +
            `${trick.parts.map((q) => q.name.toLowerCase()).join(', ')}`}
        </Mono>
      </Pressable>
      {open && (
        <View style={styles.inside}>
          <Heading heading={3} style={styles.small}>
            Recorded
          </Heading>
          {trick.parts.map((q) => (
            <Body key={q.key}>{`${q.name}, ${q.seconds} s${q.optional ? ', may be left out' : ''}: ${q.what}`}</Body>
          ))}
          <Heading heading={3} style={styles.small}>
            Must be true
          </Heading>
          {trick.requirements.map((r) => (
            <Body key={r.key}>
              {`${REQUIREMENT_KINDS[r.kind].name} ` +
                `(${r.parts.map((k) => trick.parts.find((q) => q.key === k)?.name).join(', ')}): ${statement(r.kind, r.tolerance)}`}
            </Body>
          ))}
          <Heading heading={3} style={styles.small}>
            Goes wrong when
          </Heading>
          {trick.mistakes.map((m) => (
            <Body key={m}>{m}</Body>
          ))}
          <Soft>{`Sums to do first: ${trick.sums.map((s) => SUM_SHEETS[s].name.toLowerCase()).join(', ')}.`}</Soft>
        </View>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  none: { paddingVertical: 20 },
  grid: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 28 },
  cell: { width: '47%', flexGrow: 1 },
  card: { borderBottomWidth: 1, paddingHorizontal: 4 },
  top: { paddingVertical: 12, gap: 3, minHeight: 56 },
  inside: { gap: 5, paddingBottom: 16 },
  small: { fontSize: 16, paddingTop: 8 },
});
