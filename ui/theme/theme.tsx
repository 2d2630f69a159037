import { createContext, useContext, useMemo, useState, type PropsWithChildren } from 'react';
import { configureFonts, MD3DarkTheme, MD3LightTheme, PaperProvider, type MD3Theme } from 'react-native-paper';
import { DAY, FONT, STAGE, type Palette } from './palette';

export type ThemeName = 'day' | 'stage';

interface ThemeChoice {
  name: ThemeName;
  palette: Palette;
  setName: (name: ThemeName) => void;
}

const Context = createContext<ThemeChoice>({ name: 'day', palette: DAY, setName: () => undefined });

const KEY = 'umbrastat.theme';

function remembered(): ThemeName {
  try {
    return window.localStorage.getItem(KEY) === 'stage' ? 'stage' : 'day';
  } catch {
    return 'day';
  }
}

function paperTheme(name: ThemeName, p: Palette): MD3Theme {
  const base = name === 'stage' ? MD3DarkTheme : MD3LightTheme;
  return {
    ...base,
    roundness: 1,
    fonts: configureFonts({ config: { fontFamily: FONT.regular } }),
    colors: {
      ...base.colors,
      primary: p.action,
      onPrimary: p.onAction,
      background: p.background,
      onBackground: p.ink,
      surface: p.card,
      onSurface: p.ink,
      surfaceVariant: p.card,
      onSurfaceVariant: p.soft,
      outline: p.soft,
      outlineVariant: p.line,
      error: p.reshoot,
      onError: p.onAction,
      secondaryContainer: p.line,
      onSecondaryContainer: p.ink,
      inverseSurface: p.ink,
      inverseOnSurface: p.card,
      elevation: {
        level0: 'transparent',
        level1: p.card,
        level2: p.card,
        level3: p.card,
        level4: p.card,
        level5: p.card,
      },
    },
  };
}

/** Gives everything below it the chosen theme, remembered on this device. */
export function ThemeProvider({ children }: PropsWithChildren) {
  const [name, setName] = useState<ThemeName>(remembered);
  const value = useMemo<ThemeChoice>(
    () => ({
      name,
      palette: name === 'stage' ? STAGE : DAY,
      setName: (next) => {
        setName(next);
        try {
          window.localStorage.setItem(KEY, next);
        } catch {
          // Without storage the choice lasts until the page is closed.
        }
      },
    }),
    [name],
  );
  const paper = useMemo(() => paperTheme(value.name, value.palette), [value.name, value.palette]);
  return (
    <Context.Provider value={value}>
      <PaperProvider theme={paper}>{children}</PaperProvider>
    </Context.Provider>
  );
}

export function useTheme(): ThemeChoice {
  return useContext(Context);
}

export function usePalette(): Palette {
  return useContext(Context).palette;
}
