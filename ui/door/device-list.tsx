import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import type { DeviceInList, DoorState } from '../../api/door';
import { Action } from '../components/action';
import { Row } from '../components/row';
import { Screen } from '../components/screen';
import { Empty, Failed, Loading } from '../components/states';
import { Soft } from '../components/words';
import { request } from '../data/client';

/** A moment as one says it: "today 14:20", "27 Nov 09:05". */
function moment(text: string): string {
  const at = DateTime.fromISO(text);
  return at.hasSame(DateTime.now(), 'day') ? `today ${at.toFormat('HH:mm')}` : at.toFormat('d LLL HH:mm');
}

/** Who has joined with the pass code, each of whom can be sent away. */
export function DeviceList() {
  const client = useQueryClient();
  const door = useQuery({ queryKey: ['door'], queryFn: () => request<DoorState>('/door') });
  const devices = useQuery({ queryKey: ['devices'], queryFn: () => request<DeviceInList[]>('/devices') });
  const away = useMutation({
    mutationFn: (id: string) => request(`/devices/${id}`, { method: 'DELETE' }),
    onSettled: () => client.invalidateQueries({ queryKey: ['devices'] }),
  });
  return (
    <Screen where="Plan" title="Devices">
      <Soft>
        {door.data?.closed
          ? `This device has joined as ${door.data.name}. Whoever has the pass code can join; who is sent away needs it again.`
          : `At the machine where Umbrastat was started no code is needed. To let phones in, start it with ` +
            `UMBRASTAT_HOST=0.0.0.0 ./start: it prints an address and a pass code.`}
      </Soft>
      {devices.isPending && <Loading what="the devices" />}
      {devices.error && !devices.data && <Failed error={devices.error} onAgain={devices.refetch} />}
      {devices.data?.length === 0 && <Empty title="No device has joined" text="Only this machine works here." />}
      {devices.data?.map((d) => (
        <Row
          key={d.id}
          title={d.own ? `${d.name} (this device)` : d.name}
          text={`joined ${moment(d.joined_at)}, last seen ${moment(d.seen_at)}`}
          trail={
            <Action quiet label={d.own ? 'Leave' : 'Send away'} onPress={() => away.mutate(d.id)} testID="send-away" />
          }
        />
      ))}
      {away.error && <Failed error={away.error} onAgain={devices.refetch} />}
    </Screen>
  );
}
