import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';

export function NotFoundScreen() {
  const router = useRouter();
  const { colors } = useTheme();
  return (
    <View style={{ flex: 1, justifyContent: 'center', alignItems: 'center', gap: 16, padding: 24, backgroundColor: colors.background }}>
      <Text variant="headlineSmall">There is nothing at this address.</Text>
      <Text>Your notes are all in the Library.</Text>
      <Button mode="contained" onPress={() => router.replace('/')}>
        Go to Today
      </Button>
    </View>
  );
}
