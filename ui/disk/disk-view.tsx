import { useQuery } from '@tanstack/react-query';
import type { DiskRow, DiskUse } from '../../api/disk';
import { bytesInWords } from '../../core/base/numeric/bytes';
import { Action } from '../components/action';
import { Row } from '../components/row';
import { Screen } from '../components/screen';
import { Failed, Loading } from '../components/states';
import { Mono, Soft } from '../components/words';
import { request } from '../data/client';
import { useChange } from '../data/hooks';

const WORDS: Record<DiskRow['what'], { title: string; text: string }> = {
  recordings: { title: 'Recordings', text: 'of takes; each is kept once, however often it is used' },
  packs: { title: 'Packs', text: 'what was handed off, without the recordings' },
  measured: { title: 'Found and made', text: 'small pictures to step through, plates, proofs, measures' },
  uploads: { title: 'Uploads', text: 'not taken in yet; what broke off goes after a day' },
  waste: { title: 'Waste', text: 'recordings without a take; they go for good after a week' },
};

/** What takes how much room on the disk, and what of it may go. */
export function DiskView() {
  const disk = useQuery({ queryKey: ['disk'], queryFn: () => request<DiskUse>('/disk') });
  const empty = useChange(() => request<DiskUse>('/disk/waste', { method: 'DELETE' }), ['disk']);
  const waste = disk.data?.rows.find((r) => r.what === 'waste');
  return (
    <Screen
      where="Plan"
      title="Room on disk"
      action={
        waste?.count ? (
          <Action
            label={empty.isPending ? 'Emptying …' : `Empty the waste: ${bytesInWords(waste.bytes)}`}
            disabled={empty.isPending}
            onPress={() => empty.mutate(undefined)}
            testID="empty-waste"
          />
        ) : undefined
      }
    >
      {disk.isPending && <Loading what="the disk" />}
      {disk.error && !disk.data && <Failed error={disk.error} onAgain={disk.refetch} />}
      {disk.data && (
        <Soft>
          {`${bytesInWords(disk.data.free)} are free. Half a gigabyte more is kept for the database, so that it never stops.`}
        </Soft>
      )}
      {disk.data?.rows.map((r) => (
        <Row
          key={r.what}
          title={WORDS[r.what].title}
          text={WORDS[r.what].text}
          trail={<Mono>{`${bytesInWords(r.bytes)}, ${r.count} ${r.count === 1 ? 'file' : 'files'}`}</Mono>}
        />
      ))}
      {empty.error && <Failed error={empty.error} />}
    </Screen>
  );
}
