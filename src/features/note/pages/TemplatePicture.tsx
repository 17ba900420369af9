/** A template or a sticker in small, with the pictures that it carries. */
import { useEffect, useMemo, useState } from 'react';
import { contentsOfTemplate, type Template } from '../../../core/note/template';
import { bitmapsOf } from '../../../platform/drawing/bitmaps';
import { PaperPreview } from '../../../ui/paper/PaperPreview';

export function TemplatePicture({ of, width, height, label }: { of: Template; width: number; height: number; label: string }) {
  const [shown, setShown] = useState<Awaited<ReturnType<typeof bitmapsOf>> | null>(null);
  const k = Math.min(width / of.form.w, height / of.form.h) * Math.min(3, window.devicePixelRatio || 1);
  useEffect(() => {
    if (!of.contents) return;
    let wanted = true;
    const contents = contentsOfTemplate(of);
    // One that cannot be decoded leaves its place tinted.
    void bitmapsOf(of.placed, k, async (hash) => contents.get(hash) ?? null).then((all) => wanted && setShown(all));
    return () => {
      wanted = false;
    };
  }, [of, k]);
  const pictures = useMemo(() => shown && ((it: Parameters<typeof shown.get>[0]) => shown.get(it) ?? null), [shown]);
  return <PaperPreview form={of.form} placed={of.placed} {...(pictures ? { pictures } : {})} width={width} height={height} label={label} />;
}
