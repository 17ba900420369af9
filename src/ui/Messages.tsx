/** Sentences for the user: one line over the end of what is on the screen. One is in sight, the rest unfold; news go by themselves, problems stay until they are put away or over. */
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { Button, IconButton, Text, useTheme } from 'react-native-paper';
import { Icon } from './icons';

export interface MessageItem {
  readonly key: string;
  readonly tone: 'info' | 'problem';
  readonly text: string;
  /** Words of the button that does something about it. */
  readonly action?: string;
}

export interface MessagesProps {
  messages: readonly MessageItem[];
  onAction: (key: string) => void;
  onDismiss: (key: string) => void;
  /** In the flow of a column that has room for it, instead of over the end of the screen. */
  inline?: boolean;
}

/** From this width on a problem takes as many lines as it needs, px. */
const ROOMY_PX = 900;

/** How long news stay, ms: time to find them, and to read them at a slow reader's pace; longer where something can be done about them. */
export const staysFor = ({ text, action }: MessageItem): number => 4000 + 70 * text.length + (action ? 4000 : 0);

/** The line in sight: what was said last, for as long as it is news; of problems rather one that something can be done about. */
function inSight(messages: readonly MessageItem[]): MessageItem | undefined {
  const last = messages.at(-1);
  return last?.tone === 'problem' ? (messages.findLast((m) => m.tone === 'problem' && m.action) ?? last) : last;
}

export function Messages({ messages, onAction, onDismiss, inline = false }: MessagesProps) {
  const [open, setOpen] = useState(false);
  const [held, setHeld] = useState(false);
  const first = inSight(messages);
  if (!first) {
    if (open) setOpen(false);
    return null;
  }
  const hold = { onPointerEnter: () => setHeld(true), onPointerLeave: () => setHeld(false), onFocus: () => setHeld(true), onBlur: () => setHeld(false) };
  return (
    <View style={[!inline && styles.over, styles.passing]} {...hold}>
      {(open ? messages : [first]).map((m) => (
        <Line key={m.key} item={m} open={open} more={open ? 0 : messages.length - 1} onFold={m === first ? () => setOpen(!open) : undefined} onAction={onAction} onDismiss={onDismiss} />
      ))}
      {messages.map((m) => m.tone === 'info' && <Going key={`${m.key} ${m.text}`} ms={staysFor(m)} held={held || open} onGone={() => onDismiss(m.key)} />)}
    </View>
  );
}

/** Counts a message's time down while nobody is at it and the page is looked at. */
function Going({ ms, held, onGone }: { ms: number; held: boolean; onGone: () => void }) {
  useEffect(() => {
    if (held) return;
    const timer = setTimeout(onGone, ms);
    return () => clearTimeout(timer);
    // The time starts anew when it is let go of, and not with every drawing.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [ms, held]);
  return null;
}

function Line({ item, open, more, onFold, onAction, onDismiss }: { item: MessageItem; open: boolean; more: number; onFold?: () => void } & Pick<MessagesProps, 'onAction' | 'onDismiss'>) {
  const { colors } = useTheme();
  const [cut, setCut] = useState(false);
  // Where there is room a problem is said whole; on a phone the page has it.
  const { width } = useWindowDimensions();
  const lines = item.tone === 'problem' && width >= ROOMY_PX ? 3 : 1;
  const problem = item.tone === 'problem';
  const color = problem ? colors.onErrorContainer : colors.onSecondaryContainer;
  const host = useRef<View>(null);
  useEffect(() => {
    const line = (host.current as unknown as HTMLElement | null)?.firstElementChild;
    if (!line || open) return;
    const watch = new ResizeObserver(() => setCut(line.scrollWidth > line.clientWidth + 1 || line.scrollHeight > line.clientHeight + 1));
    watch.observe(line);
    return () => watch.disconnect();
  }, [item.text, open]);
  return (
    <View role={problem ? 'alert' : 'status'} style={[styles.message, styles.passing, { backgroundColor: problem ? colors.errorContainer : colors.secondaryContainer, borderColor: color }]}>
      <Icon name={problem ? 'warning' : 'info'} color={color} size={20} />
      <View ref={host} style={styles.body}>
        <Text numberOfLines={open ? undefined : lines} style={[styles.text, { color }]}>
          {item.text}
        </Text>
      </View>
      <View style={styles.buttons}>
        {item.action && (
          <Button compact mode="text" textColor={color} labelStyle={styles.label} onPress={() => onAction(item.key)}>
            {item.action}
          </Button>
        )}
        {onFold && (cut || more > 0 || open) && (
          <Button compact mode="text" textColor={color} style={styles.fold} labelStyle={styles.foldLabel} accessibilityLabel={open ? 'Less of the messages' : more > 0 ? `Read the messages, +${more} more` : 'More: read the whole message'} onPress={onFold}>
            {open ? 'Less' : more > 0 ? `+${more}` : 'More'}
          </Button>
        )}
        <IconButton icon="close" size={18} iconColor={color} style={styles.close} aria-label="Put this message away" onPress={() => onDismiss(item.key)} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  over: { position: 'absolute', left: 0, right: 0, bottom: 0, zIndex: 30 },
  // Only its buttons take touches: a pen that comes down on the words writes on what is under them.
  passing: { pointerEvents: 'box-none' },
  message: { flexDirection: 'row', alignItems: 'center', paddingLeft: 10, gap: 8, minHeight: 44, borderTopWidth: 1 },
  body: { flex: 1, minWidth: 0, pointerEvents: 'none' },
  text: { paddingVertical: 6 },
  buttons: { flexDirection: 'row', alignItems: 'center', flexShrink: 0 },
  label: { textDecorationLine: 'underline', marginHorizontal: 6 },
  fold: { minWidth: 44 },
  foldLabel: { marginHorizontal: 4 },
  close: { margin: 0, width: 44, height: 44 },
});
