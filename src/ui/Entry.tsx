/** One entry of a list: touched, it goes where it says; its own actions stand below. */
import { StyleSheet, View } from 'react-native';
import { TouchableRipple, useTheme } from 'react-native-paper';

/** `label`: what a touch does, in front of what is in sight, so that it can be called by either. */
export function Entry({ label, onPress, disabled = false, children, actions }: { label: string; onPress: () => void; disabled?: boolean; children: React.ReactNode; actions?: React.ReactNode }) {
  const { colors } = useTheme();
  return (
    <View role="listitem" style={[styles.item, { backgroundColor: colors.elevation.level2 }]}>
      <TouchableRipple role="button" disabled={disabled} onPress={onPress} borderless style={styles.touch}>
        <View style={styles.row}>
          <span className="unseen">{`${label}, `}</span>
          {children}
        </View>
      </TouchableRipple>
      {actions && <View style={styles.actions}>{actions}</View>}
    </View>
  );
}

const styles = StyleSheet.create({
  item: { borderRadius: 10 },
  touch: { borderRadius: 10, minHeight: 48, padding: 10, justifyContent: 'center' },
  row: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  actions: { flexDirection: 'row', flexWrap: 'wrap', paddingHorizontal: 4, paddingBottom: 4 },
});
