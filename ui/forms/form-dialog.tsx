import { useEffect, useState } from 'react';
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import { Dialog, HelperText, Portal, TextInput } from 'react-native-paper';
import { Action } from '../components/action';
import { ChangedMeanwhile } from '../components/changed-meanwhile';
import { Body } from '../components/words';
import { ChangedHere } from '../data/client';

export interface Field {
  key: string;
  label: string;
  initial?: string;
  multiline?: boolean;
  numeric?: boolean;
  required?: boolean;
}

interface Props {
  visible: boolean;
  title: string;
  text?: string;
  fields: Field[];
  submit: string;
  busy: boolean;
  error: Error | null;
  onSubmit: (values: Record<string, string>) => void;
  onClose: () => void;
}

/** A short form over the screen. What was typed stays when sending fails. */
export function FormDialog({ visible, title, text, fields, submit, busy, error, onSubmit, onClose }: Props) {
  const [values, setValues] = useState<Record<string, string>>({});
  useEffect(() => {
    if (visible) setValues(Object.fromEntries(fields.map((f) => [f.key, f.initial ?? ''])));
    // The fields' starting values count only when the form opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [visible]);
  const { height } = useWindowDimensions();
  const again = error instanceof ChangedHere;
  const missing = fields.find((f) => f.required && !values[f.key]?.trim());
  return (
    <Portal>
      <Dialog visible={visible} onDismiss={onClose} style={styles.dialog}>
        <Dialog.Title>{title}</Dialog.Title>
        <Dialog.Content style={styles.content}>
          {text ? <Body>{text}</Body> : null}
          <ScrollView style={{ maxHeight: height * 0.56 }} contentContainerStyle={styles.fields}>
            {fields.map((f) => (
              <TextInput
                key={f.key}
                mode="outlined"
                label={f.label}
                accessibilityLabel={f.label}
                value={values[f.key] ?? ''}
                multiline={f.multiline}
                inputMode={f.numeric ? 'decimal' : 'text'}
                onChangeText={(v) => setValues((old) => ({ ...old, [f.key]: v }))}
                testID={`field-${f.key}`}
              />
            ))}
          </ScrollView>
          {error instanceof ChangedHere && (
            <ChangedMeanwhile here={error.here} yours={error.yours} text={error.message} />
          )}
          {error && !(error instanceof ChangedHere) && (
            <HelperText type="error" visible>
              {error.message}
            </HelperText>
          )}
          <View style={styles.actions}>
            <Action quiet label={again ? 'Keep theirs' : 'Cancel'} onPress={onClose} style={styles.half} />
            <Action
              label={again ? 'Save mine over it' : submit}
              disabled={busy || Boolean(missing)}
              onPress={() => onSubmit(values)}
              style={styles.half}
              testID="submit"
            />
          </View>
        </Dialog.Content>
      </Dialog>
    </Portal>
  );
}

const styles = StyleSheet.create({
  dialog: { maxWidth: 480, alignSelf: 'center', width: '92%' },
  content: { gap: 12 },
  fields: { gap: 12, paddingTop: 4 },
  actions: { flexDirection: 'row', gap: 12 },
  half: { flex: 1 },
});
