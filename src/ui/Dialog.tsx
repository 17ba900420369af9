/**
 * What is asked or set over the screen: the browser's own modal dialog, so that it has its role and name, takes the focus and gives it back,
 * goes with Escape or a touch beside it, and nothing behind it is reached by keys or touches.
 */
import { createContext, useContext, useEffect, useId, useLayoutEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import { Text } from 'react-native-paper';
import { backCloses } from '../platform/back';
import './dialog.css';

/** Id of the element that names the dialog. */
const Named = createContext('');

export interface DialogProps {
  onDismiss: () => void;
  /** Escape and a touch beside it put it away. */
  dismissable?: boolean;
  /** Enter in a field of text. */
  onEnter?: () => void;
  /** `sheet`: at the bottom of a phone, at the side where there is room. */
  kind?: 'middle' | 'sheet' | 'whole';
  children: React.ReactNode;
}

export function Dialog({ onDismiss, dismissable = true, onEnter, kind = 'middle', children }: DialogProps) {
  const id = useId();
  const host = useRef<HTMLDialogElement>(null);
  const pressedBeside = useRef(false);
  const dismiss = useRef(onDismiss);
  useEffect(() => {
    dismiss.current = onDismiss;
  });
  useLayoutEffect(() => {
    const dialog = host.current!;
    // The browser gives the focus back to what has it now; fields that ask for it themselves may have taken it already.
    const wanted = dialog.contains(document.activeElement) ? (document.activeElement as HTMLElement) : null;
    dialog.showModal();
    // What asks for a word begins in its field; what is to be looked at does not bring a keyboard up.
    const field = kind === 'middle' ? dialog.querySelector<HTMLElement>('input:not([type="range"], [type="checkbox"], [type="color"]), textarea') : dialog.querySelector<HTMLElement>('button');
    (wanted ?? field)?.focus();
    // What stands in the field is written over by typing.
    if (document.activeElement instanceof HTMLInputElement && kind === 'middle') document.activeElement.select();
    const still = backCloses(() => dismiss.current());
    return () => {
      still();
      dialog.close();
    };
    // It is opened once; its kind stays.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  /** Beside it: on the dialog's own backdrop. */
  const beside = (e: React.PointerEvent | React.MouseEvent): boolean => {
    if (e.target !== host.current) return false;
    const { left, right, top, bottom } = host.current.getBoundingClientRect();
    return e.clientX < left || e.clientX > right || e.clientY < top || e.clientY > bottom;
  };
  return (
    <Named value={id}>
      <dialog
        ref={host}
        className={`dialog dialog-${kind}`}
        aria-labelledby={id}
        onCancel={(e) => {
          // React would see it closed by the browser and open in its own tree.
          e.preventDefault();
          if (dismissable && e.target === host.current) dismiss.current();
        }}
        onPointerDown={(e) => (pressedBeside.current = beside(e))}
        onClick={(e) => {
          if (dismissable && pressedBeside.current && beside(e)) dismiss.current();
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && onEnter && (e.target as HTMLElement).tagName === 'INPUT') {
            e.preventDefault();
            onEnter();
          }
        }}
      >
        {children}
      </dialog>
    </Named>
  );
}

/** What names the dialog, in a head of one's own. */
export const useDialogName = (): string => useContext(Named);

function Title({ children }: { children: React.ReactNode }) {
  return (
    <Text nativeID={useDialogName()} variant="titleLarge" role="heading" aria-level={2} style={styles.title}>
      {children}
    </Text>
  );
}

/** Scrolls where it is longer than the screen. */
const Content = ({ children, style }: { children: React.ReactNode; style?: React.ComponentProps<typeof View>['style'] }) => (
  <div className="dialog-content">
    <View style={style}>{children}</View>
  </div>
);

const Actions = ({ children }: { children: React.ReactNode }) => <View style={styles.actions}>{children}</View>;

Dialog.Title = Title;
Dialog.Content = Content;
Dialog.Actions = Actions;

const styles = StyleSheet.create({
  title: { paddingHorizontal: 24, paddingTop: 20, paddingBottom: 10 },
  actions: { flexDirection: 'row', flexWrap: 'wrap', justifyContent: 'flex-end', gap: 4, paddingHorizontal: 16, paddingVertical: 10 },
});
