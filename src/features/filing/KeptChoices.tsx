/** Two versions of everything that was changed on two devices, side by side: one touch takes the other, or keeps both. */
import { useEffect, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { canKeepBoth, textOfSide, type Choice, type Side } from '../../core/note/kept';
import { readContent } from '../../storage/contentFile';
import { chooseKept, loadKept, settleKept, type KeptEntry } from '../../store/kept';
import { useAppDispatch } from '../../store/store';
import { Dialog } from '../../ui/Dialog';
import { InkPicture } from '../../ui/InkPicture';
import { useRoom } from '../../ui/useRoom';

const WHEN = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
/** How large a side is drawn, px: as wide as its column. */
const [PICTURE, WIDE_PICTURE] = [{ width: 132, height: 92 }, { width: 186, height: 124 }] as const;

export function KeptChoices({ id, title, onClose }: { id: string; title: string; onClose: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const [list, setList] = useState<readonly KeptEntry[] | 'failed' | null>(null);
  const load = () => dispatch(loadKept(id)).then(setList, () => setList('failed'));
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useEffect(() => void load(), [id]);
  const choose = async (key: string, choice: Choice) => {
    await dispatch(chooseKept(id, key, choice));
    await load();
  };
  return (
    <>
      <Dialog.Title>Compare versions</Dialog.Title>
      <Dialog.Content style={styles.all}>
        <Text style={{ color: colors.onSurfaceVariant }}>{`“${title}” was changed on two devices. The later change stands; the other one is kept here until you choose.`}</Text>
        {list === null && <Text>Reading the note …</Text>}
        {list === 'failed' && <Text role="alert">{"Couldn't read this note. Open it to see why."}</Text>}
        {Array.isArray(list) && list.length === 0 && <Text>Nothing is left to choose.</Text>}
        <View role="list" aria-label="Changed on two devices" style={styles.all}>
          {Array.isArray(list) && list.map((one) => <Versions key={one.key} one={one} choose={(choice) => void choose(one.key, choice)} />)}
        </View>
      </Dialog.Content>
      <Dialog.Actions>
        {Array.isArray(list) && list.length > 1 && (
          <Button
            onPress={() => {
              void dispatch(settleKept(id));
              onClose();
            }}
          >
            Keep all current
          </Button>
        )}
        <Button onPress={onClose}>Done</Button>
      </Dialog.Actions>
    </>
  );
}

function Versions({ one, choose }: { one: KeptEntry; choose: (choice: Choice) => void }) {
  const { colors } = useTheme();
  const name = one.name[0].toUpperCase() + one.name.slice(1);
  return (
    <View role="listitem" style={[styles.card, { borderColor: colors.outlineVariant }]}>
      <Text variant="titleSmall">{name}</Text>
      <View style={styles.sides}>
        <OneSide head="Current" at={one.standsAt} side={one.stands} where={one.where?.stands} />
        <OneSide head="Other" at={one.lostAt} side={one.lost} where={one.where?.lost} />
      </View>
      <View style={styles.buttons}>
        <Button compact mode="contained-tonal" accessibilityLabel={`Use the other version of ${one.name}`} onPress={() => choose('other')}>
          Use other
        </Button>
        {canKeepBoth(one) && (
          <Button compact accessibilityLabel={`Keep both versions of ${one.name}`} onPress={() => choose('both')}>
            Keep both
          </Button>
        )}
        <Button compact accessibilityLabel={`Keep the current version of ${one.name}`} onPress={() => choose('this')}>
          Keep current
        </Button>
      </View>
    </View>
  );
}

function OneSide({ head, at, side, where }: { head: string; at: number | null; side: Side; where: NonNullable<KeptEntry['where']>['lost'] | undefined }) {
  const { colors } = useTheme();
  const { wide } = useRoom();
  const text = side ? textOfSide(side) : 'Deleted';
  const drawn = useMemo(() => (side && 'placed' in side ? [side.placed] : null), [side]);
  return (
    <View style={styles.side}>
      <Text variant="labelMedium" style={{ color: colors.onSurfaceVariant }}>
        {at ? `${head} · ${WHEN.format(at)}` : head}
      </Text>
      {drawn && where && <InkPicture placed={drawn} around={where.around} content={readContent} box={where.box} {...(wide ? WIDE_PICTURE : PICTURE)} />}
      {text !== null && <Text numberOfLines={6}>{text}</Text>}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 12 },
  card: { borderWidth: 1, borderRadius: 12, padding: 10, gap: 8 },
  sides: { flexDirection: 'row', gap: 10 },
  side: { flex: 1, minWidth: 0, gap: 4 },
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
});
