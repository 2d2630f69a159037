import { HandOffView } from '../../ui/packs/hand-off-view';

export default function HandOffScreen() {
  return <HandOffView />;
}
