import { useRef } from 'react';
import { View } from 'react-native';
import { Action } from './action';

interface Props {
  label: string;
  /** The kinds of file that are offered: ".csv,text/csv". */
  accept: string;
  disabled?: boolean;
  onFile: (file: File) => void;
  testID: string;
  /** Of the field itself, into which tests put files. */
  fieldID: string;
}

/** A button that has a file chosen. The same file can be chosen again. */
export function FileButton({ label, accept, disabled, onFile, testID, fieldID }: Props) {
  const input = useRef<HTMLInputElement | null>(null);
  return (
    <View>
      <Action
        quiet
        label={label}
        icon="tray-arrow-up"
        disabled={disabled}
        onPress={() => input.current?.click()}
        testID={testID}
      />
      <input
        ref={input}
        type="file"
        accept={accept}
        data-testid={fieldID}
        style={{ display: 'none' }}
        onChange={(e) => {
          const chosen = e.currentTarget.files?.[0];
          e.currentTarget.value = '';
          if (chosen) onFile(chosen);
        }}
      />
    </View>
  );
}
