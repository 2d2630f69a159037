import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { Menu } from 'react-native-paper';
import { Action } from '../components/action';
import { useSensors } from '../data/plan-hooks';

/** Fills a sensor's size in from the table; the table itself can be edited. */
export function SensorChoice({
  width,
  height,
  onChoose,
}: {
  width: number;
  height: number;
  onChoose: (s: { width_mm: number; height_mm: number }) => void;
}) {
  const router = useRouter();
  const sensors = useSensors();
  const [open, setOpen] = useState(false);
  const present = sensors.data?.find((s) => s.width_mm === width && s.height_mm === height);
  const [used, setUsed] = useState(false);
  const anchor = (
    <Action
      quiet
      label={present ? sized(present) : 'Choose a sensor'}
      icon="crop-landscape"
      onPress={() => {
        setUsed(true);
        setOpen(true);
      }}
      testID="choose-sensor"
    />
  );
  // As with every menu: none until it is opened, for a closed one takes the focus.
  if (!used) return <View style={{ paddingVertical: 6 }}>{anchor}</View>;
  return (
    <View style={{ paddingVertical: 6 }}>
      <Menu visible={open} onDismiss={() => setOpen(false)} anchor={anchor}>
        {sensors.data?.map((s) => (
          <Menu.Item
            key={s.key}
            title={sized(s)}
            onPress={() => {
              setOpen(false);
              onChoose(s);
            }}
          />
        ))}
        <Menu.Item
          title="Edit the table …"
          leadingIcon="pencil"
          onPress={() => {
            setOpen(false);
            router.push('/sums/sensors');
          }}
        />
      </Menu>
    </View>
  );
}

function sized(s: { name: string; width_mm: number; height_mm: number }): string {
  return `${s.name}, ${s.width_mm} × ${s.height_mm} mm`;
}
