import type { PropsWithChildren, ReactNode, Ref } from 'react';
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import { WIDE } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { Mono, Title } from './words';

export function useWide(): boolean {
  return useWindowDimensions().width >= WIDE;
}

interface Props {
  /** Where one is, in a few words. */
  where: string;
  title: string;
  /** A sign beside the title. */
  sign?: ReactNode;
  /** The main action, kept at the thumb. */
  action?: ReactNode;
  /** Fills the whole width on a wide screen; text pages stay narrow otherwise. */
  full?: boolean;
  /** For scrolling the screen's content from outside. */
  scroll?: Ref<ScrollView>;
}

/** The frame of every screen: where, title, what it shows, and one action at the bottom. */
export function Screen({ where, title, sign, action, full, scroll, children }: PropsWithChildren<Props>) {
  const p = usePalette();
  const wide = useWide();
  return (
    <View style={[styles.screen, { backgroundColor: p.background }]} role="main">
      <View style={[styles.column, !full && wide && styles.narrow]}>
        <View style={styles.head}>
          <View style={styles.words}>
            <Mono lines={1}>{where.toUpperCase()}</Mono>
            <Title>{title}</Title>
          </View>
          {sign}
        </View>
        <ScrollView ref={scroll} style={styles.body} contentContainerStyle={styles.content}>
          {children}
        </ScrollView>
        {action ? (
          <View style={styles.action} testID="screen-action">
            {action}
          </View>
        ) : null}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  screen: { flex: 1, minHeight: 0 },
  column: { flex: 1, minHeight: 0 },
  narrow: { maxWidth: 820 },
  head: {
    flexDirection: 'row',
    alignItems: 'flex-start',
    gap: 10,
    paddingHorizontal: 18,
    paddingTop: 16,
    paddingBottom: 8,
  },
  words: { flex: 1, minWidth: 0 },
  body: { flex: 1, minHeight: 0 },
  content: { paddingHorizontal: 18, paddingBottom: 16 },
  action: { paddingHorizontal: 18, paddingVertical: 10 },
});
