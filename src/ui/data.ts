/** `data-*` attributes on a React Native view, which its types do not know of. */
export const data = (attributes: Record<string, string | number>): object => ({ dataSet: attributes });
