import type { PropsWithChildren } from 'react';
import { StyleSheet, Text, type StyleProp, type TextStyle } from 'react-native';
import { usePalette } from '../theme/theme';
import { FONT } from '../theme/palette';

type Props = PropsWithChildren<{ style?: StyleProp<TextStyle>; lines?: number; heading?: 1 | 2 | 3 }>;

/** A screen's title. */
export function Title({ children, style }: Props) {
  const p = usePalette();
  return (
    <Text role="heading" aria-level={1} style={[styles.title, { color: p.ink }, style]}>
      {children}
    </Text>
  );
}

/** A heading inside a screen. */
export function Heading({ children, style, heading = 2 }: Props) {
  const p = usePalette();
  return (
    <Text role="heading" aria-level={heading} style={[styles.heading, { color: p.ink }, style]}>
      {children}
    </Text>
  );
}

export function Body({ children, style, lines }: Props) {
  const p = usePalette();
  return (
    <Text numberOfLines={lines} style={[styles.body, { color: p.ink }, style]}>
      {children}
    </Text>
  );
}

/** What to do now. */
export function Strong({ children, style, lines }: Props) {
  const p = usePalette();
  return (
    <Text numberOfLines={lines} style={[styles.strong, { color: p.ink }, style]}>
      {children}
    </Text>
  );
}

export function Soft({ children, style, lines }: Props) {
  const p = usePalette();
  return (
    <Text numberOfLines={lines} style={[styles.soft, { color: p.soft }, style]}>
      {children}
    </Text>
  );
}

/** Numbers, frames and where one is. */
export function Mono({ children, style, lines }: Props) {
  const p = usePalette();
  return (
    <Text numberOfLines={lines} style={[styles.mono, { color: p.soft }, style]}>
      {children}
    </Text>
  );
}

const styles = StyleSheet.create({
  title: { fontFamily: FONT.bold, fontSize: 24, lineHeight: 28 },
  heading: { fontFamily: FONT.bold, fontSize: 18, lineHeight: 23 },
  body: { fontFamily: FONT.regular, fontSize: 16, lineHeight: 22 },
  strong: { fontFamily: FONT.semibold, fontSize: 16, lineHeight: 22 },
  soft: { fontFamily: FONT.regular, fontSize: 14, lineHeight: 19 },
  mono: { fontFamily: FONT.mono, fontSize: 12, lineHeight: 17 },
});
