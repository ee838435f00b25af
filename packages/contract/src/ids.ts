import { z } from 'zod';

export const Id = z.number().int().positive();
export const IdParam = z.coerce.number().int().positive();
export const Ids = z.array(Id).max(200_000);
export const Title = z.string().trim().min(1).max(160);
