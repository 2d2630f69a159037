import { MaterialCommunityIcons } from '@expo/vector-icons';
import { Pressable, StyleSheet } from 'react-native';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

interface Props {
  icon: keyof typeof MaterialCommunityIcons.glyphMap;
  label: string;
  on?: boolean;
  onPress: () => void;
  testID?: string;
}

/** A tool under a picture. */
export function ToolButton({ icon, label, on, onPress, testID }: Props) {
  const p = usePalette();
  return (
    <Pressable
      role="button"
      aria-pressed={on}
      accessibilityLabel={label}
      onPress={onPress}
      testID={testID}
      style={[styles.tool, on && { backgroundColor: p.line }]}
    >
      <MaterialCommunityIcons name={icon} size={24} color={p.ink} />
    </Pressable>
  );
}

const styles = StyleSheet.create({
  tool: { width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center', borderRadius: 4, flexShrink: 1 },
});
