/** Where what was handed over goes, and the two ways on. */
import { StyleSheet, View } from 'react-native';
import { Button, SegmentedButtons } from 'react-native-paper';

export interface OfferFootProps {
  /** An open note could take it. */
  choice: boolean;
  here: boolean;
  hereWords: string;
  onHere: (here: boolean) => void;
  leaveOut: string;
  bringIn?: string;
  onLeave: () => void;
  /** Null while it cannot be brought in. */
  onBring: (() => void) | null;
  /** A third way. */
  children?: React.ReactNode;
}

export function OfferFoot({ choice, here, hereWords, onHere, leaveOut, bringIn = 'Bring in', onLeave, onBring, children }: OfferFootProps) {
  return (
    <>
      {choice && (
        <SegmentedButtons
          value={here ? 'here' : 'new'}
          onValueChange={(v) => onHere(v === 'here')}
          buttons={[
            { value: 'here', label: hereWords },
            { value: 'new', label: 'As a new note' },
          ]}
        />
      )}
      <View style={styles.buttons}>
        <Button onPress={onLeave}>{leaveOut}</Button>
        {children}
        <Button mode="contained" disabled={!onBring} onPress={() => onBring?.()}>
          {bringIn}
        </Button>
      </View>
    </>
  );
}

const styles = StyleSheet.create({ buttons: { flexDirection: 'row', justifyContent: 'flex-end', flexWrap: 'wrap', gap: 6 } });
