import { AtkinsonHyperlegibleNext_400Regular } from '@expo-google-fonts/atkinson-hyperlegible-next/400Regular';
import { AtkinsonHyperlegibleNext_600SemiBold } from '@expo-google-fonts/atkinson-hyperlegible-next/600SemiBold';
import { AtkinsonHyperlegibleNext_700Bold } from '@expo-google-fonts/atkinson-hyperlegible-next/700Bold';
import { MartianMono_400Regular } from '@expo-google-fonts/martian-mono/400Regular';
import { MartianMono_600SemiBold } from '@expo-google-fonts/martian-mono/600SemiBold';
import { FONT } from './palette';

/** The typefaces that ship with the app. */
export const FONT_FILES = {
  [FONT.regular]: AtkinsonHyperlegibleNext_400Regular,
  [FONT.semibold]: AtkinsonHyperlegibleNext_600SemiBold,
  [FONT.bold]: AtkinsonHyperlegibleNext_700Bold,
  [FONT.mono]: MartianMono_400Regular,
  [FONT.monoBold]: MartianMono_600SemiBold,
};
