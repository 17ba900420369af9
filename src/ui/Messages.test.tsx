import { act, fireEvent, render, screen } from '@testing-library/react';
import { PaperProvider } from 'react-native-paper';
import { Icon } from './icons';
import { Messages, staysFor, type MessageItem } from './Messages';
import { lightTheme } from './theme';

// jsdom lays nothing out, so that nothing changes its size.
globalThis.ResizeObserver = class {
  observe = () => undefined;
  unobserve = () => undefined;
  disconnect = () => undefined;
};

const settings = { icon: ({ name, size, color }: { name: unknown; size: number; color?: string }) => <Icon name={String(name)} size={size} color={color} /> };
const problem: MessageItem = { key: 'full', tone: 'problem', text: 'There is no room left.', action: 'Save a copy' };
const info: MessageItem = { key: 'back', tone: 'info', text: 'Everything is stored again.' };

const shown = (messages: MessageItem[], onAction = jest.fn(), onDismiss = jest.fn()) => (
  <PaperProvider theme={lightTheme} settings={settings}>
    <Messages messages={messages} onAction={onAction} onDismiss={onDismiss} />
  </PaperProvider>
);

test('one line is in sight, news first and then the problem that something can be done about; it unfolds, each can be put away, and its button does something', async () => {
  const onAction = jest.fn();
  const onDismiss = jest.fn();
  const loud: MessageItem = { key: 'loud', tone: 'problem', text: 'The sound is too loud.' };
  const { rerender } = render(shown([problem, loud], onAction, onDismiss));
  expect(screen.getByText('There is no room left.')).toBeTruthy();
  expect(screen.queryByText('The sound is too loud.')).toBeNull();
  fireEvent.click(screen.getByText('Save a copy'));
  expect(onAction).toHaveBeenCalledWith('full');
  rerender(shown([problem, info], onAction, onDismiss));
  expect(screen.getByText('Everything is stored again.')).toBeTruthy();
  expect(screen.queryByText('There is no room left.')).toBeNull();
  fireEvent.click(screen.getByText('+1'));
  expect(screen.getByText('There is no room left.')).toBeTruthy();
  const away = screen.getAllByLabelText('Put this message away');
  expect(away).toHaveLength(2);
  fireEvent.click(away[1]);
  expect(onDismiss).toHaveBeenCalledWith('back');
});

test('news go by themselves once they could be read, problems stay, and what is unfolded waits', async () => {
  jest.useFakeTimers();
  const onDismiss = jest.fn();
  const { unmount } = render(shown([problem, info], jest.fn(), onDismiss));
  await act(async () => void jest.advanceTimersByTime(staysFor(info) - 1));
  expect(onDismiss).not.toHaveBeenCalled();
  await act(async () => void jest.advanceTimersByTime(1));
  expect(onDismiss.mock.calls).toEqual([['back']]);
  onDismiss.mockClear();
  unmount();
  render(shown([problem, { ...info, key: 'again' }], jest.fn(), onDismiss));
  fireEvent.click(screen.getByText('+1'));
  await act(async () => void jest.advanceTimersByTime(60_000));
  expect(onDismiss).not.toHaveBeenCalledWith('again');
  jest.useRealTimers();
});
