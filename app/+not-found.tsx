import { useRouter } from 'expo-router';
import { Action } from '../ui/components/action';
import { Screen } from '../ui/components/screen';
import { Empty } from '../ui/components/states';

/** Whatever has no page, an old link or a mistyped one. */
export default function NotFoundScreen() {
  const router = useRouter();
  return (
    <Screen
      where="Umbrastat"
      title="No such page"
      action={<Action label="To the shoots" onPress={() => router.replace('/')} testID="to-shoots" />}
    >
      <Empty
        title="There is nothing at this address"
        text="The link is old or mistyped, or what it led to was deleted. Your shoots are all under Plan."
      />
    </Screen>
  );
}
