import { Link, type Href } from 'expo-router';
import type { ReactNode } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { Soft, Strong } from './words';

interface Props {
  lead?: ReactNode;
  title: string;
  text?: string;
  trail?: ReactNode;
  href?: Href;
  selected?: boolean;
  testID?: string;
}

/** One line of a list: a sign, a name, a short text, and something at the end; leads somewhere when it has an address. */
export function Row({ lead, title, text, trail, href, selected, testID }: Props) {
  const p = usePalette();
  const inside = (
    <View style={[styles.row, { borderBottomColor: p.line }, selected && { backgroundColor: p.card }]}>
      {lead}
      <View style={styles.words}>
        <Strong lines={2}>{title}</Strong>
        {text ? <Soft lines={5}>{text}</Soft> : null}
      </View>
      {trail}
    </View>
  );
  if (!href) return <View testID={testID}>{inside}</View>;
  return (
    <Link href={href} asChild>
      <Pressable role="link" testID={testID}>
        {inside}
      </Pressable>
    </Link>
  );
}

const styles = StyleSheet.create({
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    paddingVertical: 11,
    paddingHorizontal: 4,
    borderBottomWidth: 1,
    minHeight: TOUCH + 8,
  },
  words: { flex: 1, minWidth: 0 },
});
