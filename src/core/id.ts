import { nanoid } from 'nanoid';

/** Random global ids: 22 characters of base64url, 132 bits, so that records made on two devices never meet by chance. */
export const newId = (): string => nanoid(22);
