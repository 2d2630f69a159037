import { useLocalSearchParams } from 'expo-router';
import { PackView } from '../../ui/packs/pack-view';

export default function PackScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PackView id={id} />;
}
