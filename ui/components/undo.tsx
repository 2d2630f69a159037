import { createContext, useCallback, useContext, useState, type PropsWithChildren } from 'react';
import { Snackbar } from 'react-native-paper';
import { usePalette } from '../theme/theme';

interface Offer {
  text: string;
  undo?: () => void;
}
const Context = createContext<(offer: Offer) => void>(() => undefined);

/** Shows for some seconds what was done, with the way back. */
export function UndoProvider({ children }: PropsWithChildren) {
  const p = usePalette();
  const [offer, setOffer] = useState<Offer | null>(null);
  const close = useCallback(() => setOffer(null), []);
  return (
    <Context.Provider value={setOffer}>
      {children}
      <Snackbar
        visible={offer !== null}
        onDismiss={close}
        duration={9000}
        onIconPress={close}
        iconAccessibilityLabel="Put the message away"
        wrapperStyle={{ bottom: 72 }}
        style={{ backgroundColor: p.ink }}
        action={
          offer?.undo
            ? {
                label: 'Undo',
                textColor: p.card,
                onPress: () => {
                  offer.undo?.();
                  close();
                },
              }
            : undefined
        }
      >
        {offer?.text ?? ''}
      </Snackbar>
    </Context.Provider>
  );
}

export function useUndo(): (offer: Offer) => void {
  return useContext(Context);
}
