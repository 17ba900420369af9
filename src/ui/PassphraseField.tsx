/** A field for a passphrase, hidden until it is asked to be shown. */
import { useState } from 'react';
import { TextInput } from 'react-native-paper';

export interface PassphraseFieldProps {
  label: string;
  value: string;
  onChange: (text: string) => void;
  onEnter?: () => void;
  autoFocus?: boolean;
}

export function PassphraseField({ label, value, onChange, onEnter, autoFocus }: PassphraseFieldProps) {
  const [shown, setShown] = useState(false);
  return (
    <TextInput
      mode="outlined"
      label={label}
      accessibilityLabel={label}
      value={value}
      onChangeText={onChange}
      onSubmitEditing={onEnter}
      submitBehavior="submit"
      autoFocus={autoFocus}
      autoCapitalize="none"
      autoCorrect={false}
      autoComplete="off"
      secureTextEntry={!shown}
      right={<TextInput.Icon icon={shown ? 'eyeOff' : 'eye'} aria-label={shown ? 'Hide what is typed' : 'Show what is typed'} onPress={() => setShown(!shown)} />}
    />
  );
}
