import { MaterialCommunityIcons } from '@expo/vector-icons';
import { Pressable, StyleSheet, Text, View, type StyleProp, type ViewStyle } from 'react-native';
import { FONT, TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

interface Props {
  label: string;
  onPress: () => void;
  icon?: keyof typeof MaterialCommunityIcons.glyphMap;
  disabled?: boolean;
  quiet?: boolean;
  style?: StyleProp<ViewStyle>;
  testID?: string;
}

/** The one thing to do on a screen, or with `quiet` a lesser one. */
export function Action({ label, onPress, icon, disabled, quiet, style, testID }: Props) {
  const p = usePalette();
  const ink = quiet ? p.ink : p.onAction;
  return (
    <Pressable
      role="button"
      accessibilityState={{ disabled }}
      disabled={disabled}
      onPress={onPress}
      testID={testID}
      style={({ pressed }) => [
        styles.box,
        quiet ? { borderColor: p.ink, borderWidth: 1.5 } : { backgroundColor: p.action },
        (pressed || disabled) && { opacity: disabled ? 0.45 : 0.75 },
        style,
      ]}
    >
      <View style={styles.row}>
        {icon && <MaterialCommunityIcons name={icon} size={20} color={ink} />}
        <Text style={[styles.label, { color: ink }]}>{label}</Text>
      </View>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  box: { minHeight: TOUCH + 4, borderRadius: 3, paddingHorizontal: 16, justifyContent: 'center' },
  row: { flexDirection: 'row', alignItems: 'center', justifyContent: 'center', gap: 8 },
  label: { fontFamily: FONT.bold, fontSize: 17, textAlign: 'center' },
});
