/** What of handwriting is read, and words that the user adds to those that are known. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { chooseFile } from '../../platform/files';
import { countriesByName, countryName, selectCountry } from '../../store/inText';
import { settingsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import type { Thunk } from '../../store/thunk';
import { Select } from '../../ui/Select';
import { addWordList, removeWordList, wordList, type KnownList } from '../../store/wordList';

export function WordsSection() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const [list, setList] = useState<KnownList | null>(null);
  const [round, setRound] = useState(0);
  useEffect(() => {
    let still = true;
    void dispatch(wordList()).then((known) => still && setList(known));
    return () => void (still = false);
  }, [dispatch, round]);
  const chosen = useAppSelector((s) => s.settings.country);
  const country = useAppSelector(selectCountry);
  const [countries, setCountries] = useState<readonly { code: string; name: string }[]>([]);
  useEffect(() => {
    let still = true;
    // Without the network, where this was never loaded, the one that counts can be seen all the same.
    countriesByName().then((all) => still && setCountries(all), () => undefined);
    return () => void (still = false);
  }, []);
  const ofBrowser = { value: '', text: chosen ? 'The browser’s' : `${countryName(country)} (browser’s)` };
  const known = countries.length ? countries : chosen ? [{ code: chosen, name: countryName(chosen) }] : [];
  const then = (work: Thunk<Promise<void>>) => void dispatch(work).then(() => setRound((n) => n + 1));
  const add = async () => {
    const file = await chooseFile('.txt,.dic,.csv,text/plain');
    if (file) then(addWordList(file));
  };
  return (
    <>
      <Text style={{ color: colors.onSurfaceVariant }}>
        Read are English words, printed or joined, with the letters and accents of western Europe (à ç é ñ ö ø ß), digits and common signs. Not read are other scripts such as Greek, Cyrillic or Chinese, formulas and shorthand; Search by writing finds any sign by its shape.
      </Text>
      {list && (
        <Text>
          Word list: {list.name}, {list.words.toLocaleString('en')} words
        </Text>
      )}
      <View style={styles.buttons}>
        <Button mode="contained-tonal" onPress={() => void add()}>
          {list ? 'Another word list' : 'Add a word list'}
        </Button>
        {list && (
          <Button mode="contained-tonal" onPress={() => then(removeWordList())}>
            Take the list away
          </Button>
        )}
      </View>
      <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
        A text file with a word on each line: names, terms of a course, words of another language in Latin letters.
      </Text>
      <Select row label="Numbers and dates as in" value={chosen ?? ''} options={[ofBrowser, ...known.map(({ code, name }) => ({ value: code, text: name }))]} onChange={(code) => dispatch(settingsSlice.actions.patched({ country: code || null }))} />
      <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
        Telephone numbers without a country code are called there; 3/4 is the third of April, and in the United States the fourth of March.
      </Text>
    </>
  );
}

const styles = StyleSheet.create({ buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 } });
