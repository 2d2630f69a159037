import { Children, isValidElement, useState, type ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { Chip, HelperText, TextInput } from 'react-native-paper';
import { Mono } from '../components/words';
import { FONT, TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

interface NumberFieldProps {
  label: string;
  unit?: string;
  value: number | null;
  onChange: (value: number | null) => void;
  least?: number;
  most?: number;
  testID?: string;
}

/** A number with its unit; empty is null. A comma is taken for a point. */
export function NumberField({
  label,
  unit,
  value,
  onChange,
  least = -Infinity,
  most = Infinity,
  testID,
}: NumberFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? (value === null ? '' : String(Math.round(value * 1e6) / 1e6));
  const parsed = shown.trim() === '' ? null : Number(shown.replace(',', '.'));
  const wrong = parsed !== null && !(parsed >= least && parsed <= most);
  return (
    <View>
      <TextInput
        mode="outlined"
        dense
        label={unit ? `${label}, ${unit}` : label}
        accessibilityLabel={unit ? `${label}, ${unit}` : label}
        value={shown}
        inputMode="decimal"
        error={wrong}
        testID={testID}
        onChangeText={(text) => {
          setTyped(text);
          const next = text.trim() === '' ? null : Number(text.replace(',', '.'));
          if (next === null || (next >= least && next <= most)) onChange(next);
        }}
        onBlur={() => {
          if (!wrong) setTyped(null);
        }}
      />
      {wrong && <HelperText type="error" visible>{`${least} to ${most}${unit ? ` ${unit}` : ''}`}</HelperText>}
    </View>
  );
}

interface TextFieldProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  multiline?: boolean;
  testID?: string;
}

export function TextField({ label, value, onChange, multiline, testID }: TextFieldProps) {
  return (
    <TextInput
      mode="outlined"
      dense
      label={label}
      accessibilityLabel={label}
      value={value}
      onChangeText={onChange}
      multiline={multiline}
      testID={testID}
    />
  );
}

interface ChoiceProps<T extends string> {
  name: string;
  options: readonly { value: T; label: string }[];
  value: T | readonly T[];
  onChange: (value: T) => void;
  testID?: string;
}

/** One or several of a few; touched, not scrolled. */
export function ChoiceField<T extends string>({ name, options, value, onChange, testID }: ChoiceProps<T>) {
  const p = usePalette();
  const many = Array.isArray(value);
  const isOn = (v: T) => (many ? (value as readonly T[]).includes(v) : value === v);
  return (
    <View role={many ? 'group' : 'radiogroup'} aria-label={name} style={styles.choice} testID={testID}>
      <Mono>{name.toLowerCase()}</Mono>
      <View style={styles.chips}>
        {options.map((o) => (
          <Chip
            key={o.value}
            mode="outlined"
            selected={isOn(o.value)}
            showSelectedCheck={false}
            onPress={() => onChange(o.value)}
            testID={`choose-${o.value}`}
            style={[styles.chip, { backgroundColor: isOn(o.value) ? p.action : 'transparent', borderColor: p.soft }]}
            textStyle={{
              color: isOn(o.value) ? p.onAction : p.ink,
              fontFamily: FONT.semibold,
              fontSize: 15,
              lineHeight: 20,
              marginVertical: (TOUCH - 26) / 2,
            }}
          >
            {o.label}
          </Chip>
        ))}
      </View>
    </View>
  );
}

/** Fields side by side as the width allows; choices take a line of their own. */
export function FieldGrid({ children }: { children: ReactNode }) {
  return (
    <View style={styles.grid}>
      {Children.map(children, (child) =>
        child ? (
          <View style={isValidElement(child) && child.type === ChoiceField ? styles.line : styles.cell}>{child}</View>
        ) : null,
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  grid: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, paddingTop: 4 },
  cell: { flexGrow: 1, flexShrink: 1, flexBasis: 160, minWidth: 130 },
  line: { width: '100%' },
  choice: { gap: 6, paddingVertical: 6 },
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  chip: { minHeight: TOUCH - 4, justifyContent: 'center', borderRadius: 4 },
});
