/** Around every screen: the store, the theme, what listens for the life of the page. */
import { Slot } from 'expo-router';
import { useEffect } from 'react';
import { StyleSheet, useColorScheme, View } from 'react-native';
import { PaperProvider } from 'react-native-paper';
import { Provider } from 'react-redux';
import { watchFirstTimes } from '../../store/firstTimes';
import { bringDemo } from '../../store/demo';
import { watchDav } from '../../store/davBackup';
import { emptyBin } from '../../store/filing';
import { findSpeech } from '../../store/hearing';
import { watchRoom } from '../../store/storageFigures';
import { followPlayer } from '../../store/followPlayer';
import { watchLock } from '../../store/lock';
import { isShut } from '../../store/lockState';
import { watchServer } from '../../store/server';
import { listenAboutNote, listenToTabs } from '../../store/following';
import { loadLibrary } from '../../store/library';
import { flushBoth } from '../../store/openNote';
import { store, useAppDispatch, useAppSelector } from '../../store/store';
import { keepOffline } from '../../platform/offline';
import { liveText } from '../../store/liveText';
import { readText } from '../../store/textReading';
import { findWords } from '../../store/wordFinding';
import { Hints } from '../../ui/Hints';
import { Icon } from '../../ui/icons';
import { darkTheme, lightTheme } from '../../ui/theme';
import { BringSheet } from '../bringing/BringSheet';
import { LockDialog, LockedScreen, SealingDialog } from './Locked';
import { showTheme } from '../../ui/cssColors';
import { wouldBeLost } from '../../store/unsaved';

export function Root() {
  useEffect(() => {
    const stopWords = findWords(store);
    const stopLive = liveText(store);
    const stopReading = readText(store);
    const stopHearing = findSpeech(store);
    const stopPlayer = followPlayer(store);
    const stopServer = watchServer(store);
    const stopDav = watchDav(store);
    const stopRoom = watchRoom(store);
    const stopLock = watchLock(store);
    const stopFirst = watchFirstTimes(store);
    keepOffline();
    store.dispatch(listenToTabs());
    const stopTelling = store.dispatch(listenAboutNote());
    void store.dispatch(loadLibrary());
    const flush = () => void store.dispatch(flushBoth());
    const hide = () => {
      if (document.visibilityState === 'hidden') flush();
    };
    const leave = (e: BeforeUnloadEvent) => {
      flush();
      if (store.dispatch(wouldBeLost())) e.preventDefault();
    };
    document.addEventListener('visibilitychange', hide);
    window.addEventListener('pagehide', flush);
    window.addEventListener('beforeunload', leave);
    return () => {
      stopWords();
      stopLive();
      stopReading();
      stopHearing();
      stopPlayer();
      stopServer();
      stopDav();
      stopRoom();
      stopLock();
      stopFirst();
      stopTelling();
      document.removeEventListener('visibilitychange', hide);
      window.removeEventListener('pagehide', flush);
      window.removeEventListener('beforeunload', leave);
    };
  }, []);
  return (
    <Provider store={store}>
      <Themed />
    </Provider>
  );
}

function Themed() {
  const dispatch = useAppDispatch();
  const ready = useAppSelector((s) => s.library.status === 'ready');
  const shut = useAppSelector(isShut);
  const wish = useAppSelector((s) => s.settings.theme);
  const system = useColorScheme();
  const dark = wish === 'dark' || (wish === 'system' && system === 'dark');
  useEffect(() => {
    showTheme(dark ? 'dark' : 'light');
  }, [dark]);
  useEffect(() => {
    if (ready) void dispatch(emptyBin(false)).then(() => dispatch(bringDemo(false)));
  }, [dispatch, ready]);
  return (
    <PaperProvider theme={dark ? darkTheme : lightTheme} settings={{ icon: ({ name, size, color }) => <Icon name={String(name)} size={size} color={color} /> }}>
      {/* Kept while everything is locked, out of sight and empty: where one was is where one comes back to. */}
      <View style={shut ? styles.away : styles.all}>
        <Slot />
      </View>
      {shut && <LockedScreen />}
      {!shut && <BringSheet />}
      <LockDialog />
      <SealingDialog />
      <Hints />
    </PaperProvider>
  );
}

const styles = StyleSheet.create({ all: { flex: 1 }, away: { display: 'none' } });
