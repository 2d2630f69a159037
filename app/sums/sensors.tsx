import { SensorTable } from '../../ui/sums/sensor-table';

export default function Sensors() {
  return <SensorTable />;
}
