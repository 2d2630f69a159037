import { MaterialCommunityIcons } from '@expo/vector-icons';
import { useState } from 'react';
import { Pressable } from 'react-native';
import { Menu } from 'react-native-paper';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';

export interface MenuEntry {
  label: string;
  onPress: () => void;
  testID?: string;
}

/** Three dots that open the lesser things to do with a row or a page. */
export function MenuButton({ label, entries, testID }: { label: string; entries: MenuEntry[]; testID?: string }) {
  const p = usePalette();
  const [open, setOpen] = useState(false);
  const [used, setUsed] = useState(false);
  const anchor = (
    <Pressable
      role="button"
      accessibilityLabel={label}
      testID={testID}
      onPress={() => {
        setUsed(true);
        setOpen(true);
      }}
      style={{ width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center' }}
    >
      <MaterialCommunityIcons name="dots-vertical" size={24} color={p.ink} />
    </Pressable>
  );
  // A closed menu takes the focus, and scrolls the page to itself: there is none until it is opened.
  if (!used) return anchor;
  return (
    <Menu visible={open} onDismiss={() => setOpen(false)} anchor={anchor}>
      {entries.map((e) => (
        <Menu.Item
          key={e.label}
          title={e.label}
          testID={e.testID}
          onPress={() => {
            setOpen(false);
            e.onPress();
          }}
        />
      ))}
    </Menu>
  );
}
