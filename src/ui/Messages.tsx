/** Sentences for the user, one below the other, each with a way to put it away. */
import { StyleSheet, View } from 'react-native';
import { Button, IconButton, Text, useTheme } from 'react-native-paper';
import { Icon } from './icons';

export interface MessageItem {
  readonly key: string;
  readonly tone: 'info' | 'problem';
  readonly text: string;
  /** Words of the button that does something about it. */
  readonly action?: string;
}

export function Messages({ messages, onAction, onDismiss }: { messages: readonly MessageItem[]; onAction: (key: string) => void; onDismiss: (key: string) => void }) {
  const { colors } = useTheme();
  return (
    <View>
      {messages.map((m) => {
        const problem = m.tone === 'problem';
        const color = problem ? colors.onErrorContainer : colors.onSecondaryContainer;
        return (
          <View key={m.key} role={problem ? 'alert' : 'status'} style={[styles.message, { backgroundColor: problem ? colors.errorContainer : colors.secondaryContainer }]}>
            <Icon name={problem ? 'warning' : 'info'} color={color} size={22} />
            <View style={styles.body}>
              <Text style={{ color }}>{m.text}</Text>
              {m.action && (
                <Button compact mode="text" textColor={color} style={styles.action} labelStyle={styles.label} onPress={() => onAction(m.key)}>
                  {m.action}
                </Button>
              )}
            </View>
            <IconButton icon="close" size={18} iconColor={color} style={styles.close} aria-label="Put this message away" onPress={() => onDismiss(m.key)} />
          </View>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  message: { flexDirection: 'row', alignItems: 'flex-start', paddingLeft: 12, paddingVertical: 8, gap: 10 },
  body: { flex: 1, alignItems: 'flex-start' },
  action: { marginTop: 2, marginLeft: -8 },
  label: { textDecorationLine: 'underline' },
  close: { margin: 0, width: 44, height: 44, marginTop: -10 },
});
