import { z } from 'zod';

export const Id = z.number().int().positive();
export const IdParam = z.coerce.number().int().positive();
export const Ids = z.array(Id).max(200_000);
export const Title = z.string().trim().min(1).max(160);

/**
 * For whom a picture is: only whoever said so; whoever lives in the house (keepers and helpers); the family too (relatives); anybody
 * who was given a link.
 */
export const Audience = z.enum(['me', 'house', 'family', 'link']);
export type Audience = z.infer<typeof Audience>;
