import type { Part } from '@gemmel/contract';

/** Parts by what they may do. */
const RANK: Record<Part, number> = { nobody: 0, account: 1, relative: 2, helper: 3, keeper: 4 };

/** Whether a part may do what another part is the least for. */
export const may = (part: Part, least: Part): boolean => RANK[part] >= RANK[least];
