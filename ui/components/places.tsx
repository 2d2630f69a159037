import { MaterialCommunityIcons } from '@expo/vector-icons';
import { Link, usePathname, type Href } from 'expo-router';
import { useEffect } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { useTakesToCheck } from '../data/hooks';
import { useLastSetup } from '../data/last-setup';
import { FONT } from '../theme/palette';
import { usePalette, useTheme } from '../theme/theme';
import { useWide } from './screen';
import { Mono } from './words';

interface Place {
  name: string;
  href: Href;
  note: string;
  here: boolean;
}

type PlaceKey = 'plan' | 'roll' | 'check' | 'hand-off';

/** The place a page belongs to; null for a take's page and the benches, which are reached from several. */
function ownPlace(path: string): PlaceKey | null {
  if (path === '/check') return 'check';
  if (path.startsWith('/hand-off')) return 'hand-off';
  if (
    path === '/' ||
    /^\/(shoots|sums|planned|devices|disk|take-in)/.test(path) ||
    /^\/setups\/[^/]+\/(plan|add-trick)$/.test(path)
  )
    return 'plan';
  if (path === '/roll' || /^\/setups\/[^/]+(\/(sheet|roll))?$/.test(path)) return 'roll';
  return null;
}

let cameFrom: PlaceKey | null = null;

/** The place to mark: the page's own, or the one from which it was reached. */
function usePlaceOf(path: string): PlaceKey {
  const own = ownPlace(path);
  useEffect(() => {
    if (own) cameFrom = own;
  }, [own]);
  return own ?? cameFrom ?? 'check';
}

function usePlaces(): Place[] {
  const path = usePathname();
  const last = useLastSetup();
  const takes = useTakesToCheck();
  const toSee = takes.data?.filter(
    (t) =>
      t.standing &&
      // What is being measured is nothing to look at yet.
      (t.state === 'failed' || t.verdict === 'reshoot' || (t.verdict === 'unjudged' && !t.pending)),
  ).length;
  const circled = takes.data?.filter((t) => t.circled).length;
  const here = usePlaceOf(path);
  return [
    { name: 'Plan', href: '/', note: 'shoots', here: here === 'plan' },
    {
      name: 'Roll',
      href: last ? `/setups/${last.id}` : '/roll',
      note: last ? `setup ${last.number}` : 'choose',
      here: here === 'roll',
    },
    {
      name: 'Check',
      href: '/check',
      note: toSee === undefined ? '' : toSee ? `${toSee} to see` : 'all seen',
      here: here === 'check',
    },
    {
      name: 'Hand off',
      href: '/hand-off',
      note: circled === undefined ? '' : `${circled} circled`,
      here: here === 'hand-off',
    },
  ];
}

/** The four places along the order of work: at the bottom of a phone, at the side of a wide screen. */
export function Places() {
  const p = usePalette();
  const wide = useWide();
  const places = usePlaces();
  const { name, setName } = useTheme();
  const other = name === 'day' ? 'stage' : 'day';
  const theme = (
    <Pressable
      role="button"
      accessibilityLabel={`Change to the ${other} theme`}
      testID="theme"
      onPress={() => setName(other)}
      style={wide ? styles.sideTheme : styles.bottomTheme}
    >
      <MaterialCommunityIcons name={name === 'day' ? 'weather-night' : 'weather-sunny'} size={22} color={p.soft} />
      {wide && <Mono>{other === 'stage' ? 'Stage' : 'Day'}</Mono>}
    </Pressable>
  );
  return (
    <View
      role="navigation"
      style={[wide ? styles.side : styles.bottom, { borderColor: p.ink, backgroundColor: p.background }]}
    >
      {wide && <Text style={[styles.brand, { color: p.ink }]}>Umbrastat</Text>}
      {places.map((place) => (
        <Link key={place.name} href={place.href} asChild>
          <Pressable
            role="link"
            aria-current={place.here ? 'page' : undefined}
            style={wide ? styles.sideItem : styles.bottomItem}
          >
            {place.here && <View style={[wide ? styles.sideMark : styles.bottomMark, { backgroundColor: p.ink }]} />}
            <Text style={[styles.name, { color: place.here ? p.ink : p.soft }]}>{place.name}</Text>
            <Text style={[styles.note, { color: place.here ? p.ink : p.soft }]}>{place.note}</Text>
          </Pressable>
        </Link>
      ))}
      {theme}
    </View>
  );
}

const styles = StyleSheet.create({
  bottom: { flexDirection: 'row', borderTopWidth: 1.5, height: 68 },
  bottomItem: { flex: 1, alignItems: 'center', paddingTop: 13 },
  bottomMark: { position: 'absolute', top: -1.5, left: 14, right: 14, height: 5 },
  bottomTheme: { width: 48, alignItems: 'center', justifyContent: 'center' },
  side: { width: 168, borderRightWidth: 1.5, paddingTop: 20, gap: 4 },
  sideItem: { paddingVertical: 12, paddingHorizontal: 20, minHeight: 56 },
  sideMark: { position: 'absolute', left: 0, top: 10, bottom: 10, width: 5 },
  sideTheme: {
    flexDirection: 'row',
    gap: 8,
    alignItems: 'center',
    paddingHorizontal: 20,
    minHeight: 48,
    marginTop: 'auto',
    marginBottom: 12,
  },
  brand: { fontFamily: FONT.bold, fontSize: 20, paddingHorizontal: 20, paddingBottom: 14 },
  name: { fontFamily: FONT.semibold, fontSize: 15 },
  note: { fontFamily: FONT.mono, fontSize: 11, marginTop: 2 },
});
