import { TakeInView } from '../ui/packs/take-in-view';

export default function TakeInScreen() {
  return <TakeInView />;
}
