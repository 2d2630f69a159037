import { MaterialCommunityIcons } from '@expo/vector-icons';
import { Link, type Href } from 'expo-router';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import type { SetupPage } from '../../api/boards';
import { wantsZone } from '../../core/tricks/zones';
import { FONT, TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

interface To {
  to: string;
  icon: keyof typeof MaterialCommunityIcons.glyphMap;
  label: string;
  /** For those who do not see the sign. */
  says: string;
}

/** The way from a setup's gate to its sheet, its plan and its benches: one strip. */
export function SetupLinks({ setup }: { setup: SetupPage }) {
  const p = usePalette();
  const measured = setup.parts.reduce((n, part) => n + part.takes.filter((t) => t.state === 'done').length, 0);
  const wipes = setup.planned.some((t) => t.trick.parts.some((part) => part.role === 'out-side'));
  const joined = setup.planned.some(({ trick: { parts } }) => {
    const of = (role: string) => parts.filter((part) => part.role === role).length;
    return of('pass') > 1 || (of('pass') > 0 && of('plate') > 0);
  });
  const zones = setup.planned.some(({ trick }) => wantsZone(trick));
  const links: To[] = [
    { to: 'sheet', icon: 'clipboard-text-outline', label: 'Sheet', says: 'Sheet for the set' },
    { to: 'plan', icon: 'format-list-bulleted', label: 'Plan', says: 'Plan of this setup' },
    ...(measured > 0 && wipes
      ? [{ to: 'wipes', icon: 'gesture-swipe-horizontal', label: 'Wipe', says: 'Wipe bench' } as const]
      : []),
    ...(measured > 1 && joined
      ? [{ to: 'passes', icon: 'vector-intersection', label: 'Passes', says: 'Pass bench' } as const]
      : []),
    ...(measured > 0 && zones
      ? [{ to: 'zone', icon: 'vector-polygon', label: 'Zone', says: 'Zone of the picture' } as const]
      : []),
    ...(measured > 0 ? [{ to: 'plates', icon: 'image-outline', label: 'Plate', says: 'Plate bench' } as const] : []),
    ...(measured > 1 ? [{ to: 'compare', icon: 'compare', label: 'Compare', says: 'Take against take' } as const] : []),
  ];
  return (
    <View style={[styles.strip, { borderColor: p.line }]}>
      {links.map(({ to, icon, label, says }) => (
        <Link key={to} href={`/setups/${setup.id}/${to}` as Href} asChild>
          <Pressable role="link" accessibilityLabel={says} style={styles.link} testID={`to-${to}`}>
            <MaterialCommunityIcons name={icon} size={22} color={p.ink} />
            <Text style={[styles.label, { color: p.ink }]}>{label}</Text>
          </Pressable>
        </Link>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  strip: { flexDirection: 'row', borderTopWidth: 1, borderBottomWidth: 1 },
  link: { flex: 1, minHeight: TOUCH + 8, alignItems: 'center', justifyContent: 'center', gap: 2 },
  label: { fontFamily: FONT.semibold, fontSize: 13 },
});
