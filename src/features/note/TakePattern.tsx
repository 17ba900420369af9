/** The tint and pattern of a take, as in the time margin. */
import '../../ui/takes.css';

export const TakePattern = ({ index }: { index: number }) => <div className={`take-swatch take-${index % 5}`} aria-hidden />;
