import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useFonts } from 'expo-font';
import { Slot } from 'expo-router';
import Head from 'expo-router/head';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { SafeAreaProvider } from 'react-native-safe-area-context';
import { Places } from '../ui/components/places';
import { UndoProvider } from '../ui/components/undo';
import { useWide } from '../ui/components/screen';
import { Body } from '../ui/components/words';
import { ServerSays, useClosed, useReachable } from '../ui/data/client';
import { JoinScreen } from '../ui/door/join-screen';
import { FONT_FILES } from '../ui/theme/fonts';
import { ThemeProvider, usePalette } from '../ui/theme/theme';

export default function Layout() {
  const [loaded, failed] = useFonts(FONT_FILES);
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: {
          queries: {
            retry: (count, error) => !(error instanceof ServerSays) && count < 2,
            staleTime: 300,
            networkMode: 'always',
          },
          mutations: { networkMode: 'always' },
        },
      }),
  );
  useEffect(() => {
    // So that the sheet opens while the server cannot be reached. Without it the app works all the same.
    if ('serviceWorker' in navigator && !__DEV__)
      navigator.serviceWorker.register('/offline.js').catch(() => undefined);
  }, []);
  if (!loaded && !failed) return null;
  return (
    <SafeAreaProvider>
      <QueryClientProvider client={client}>
        <ThemeProvider>
          <UndoProvider>
            <Frame />
          </UndoProvider>
        </ThemeProvider>
      </QueryClientProvider>
    </SafeAreaProvider>
  );
}

function Frame() {
  const p = usePalette();
  const wide = useWide();
  const reachable = useReachable();
  const closed = useClosed();
  return (
    <View style={[styles.all, { backgroundColor: p.background, flexDirection: wide ? 'row' : 'column-reverse' }]}>
      <Head>
        <title>Umbrastat</title>
        <meta name="theme-color" content={p.background} />
      </Head>
      {!closed && <Places />}
      <View style={styles.page}>
        {!reachable && (
          <View role="alert" style={[styles.banner, { backgroundColor: p.ink }]}>
            <Body style={{ color: p.card }}>
              The server cannot be reached. What is on screen is the last known state; trying again.
            </Body>
          </View>
        )}
        {closed ? <JoinScreen /> : <Slot />}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, minHeight: 0 },
  page: { flex: 1, minHeight: 0, minWidth: 0 },
  banner: { paddingHorizontal: 18, paddingVertical: 10 },
});
