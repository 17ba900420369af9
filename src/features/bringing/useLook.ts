/** What a file that was handed over turns out to be, once somebody has looked into it. */
import { useEffect, useState } from 'react';
import { reasonOf } from '../../store/messages';

export type Look<T> = { readonly is: 'looking' } | { readonly is: 'broken'; readonly why: string } | { readonly is: 'open'; readonly found: T };

export function useLook<T>(file: File, into: (file: File) => Promise<T>): Look<T> {
  const [look, setLook] = useState<Look<T>>({ is: 'looking' });
  useEffect(() => {
    let wanted = true;
    into(file).then((found) => wanted && setLook({ is: 'open', found }), (e: unknown) => wanted && setLook({ is: 'broken', why: reasonOf(e) }));
    return () => {
      wanted = false;
    };
    // One look for each file.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [file]);
  return look;
}
