import type { ZodType } from 'zod';
import type { Saying, Topic } from '@gemmel/contract';
import type { App } from '../context';

/**
 * Kinds of work that is done behind people's backs, each with what it carries beside what it is about. A kind adds itself here,
 * in the one file that defines it; see {@link defineJob}.
 */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface JobPayloads {}
export type JobKind = keyof JobPayloads;

/** A job in hand. */
export interface Job<K extends JobKind = JobKind> {
  id: number;
  library: number;
  kind: K;
  /** What it is about: a batch item, a batch, a source, a picture, else 0. */
  about: number;
  tries: number;
  payload: JobPayloads[K];
  /** Tells how far it is, `of` in all; kept with the job and told to whoever watches. */
  report: (done: number, of: number) => void;
  /** Called off when somebody has stopped it. */
  signal: AbortSignal;
}

/** Everything about a kind of work, in one place. */
export interface JobDefinition<K extends JobKind = JobKind> {
  kind: K;
  /** The smaller, the sooner. */
  priority: number;
  /** How often it is tried before it is given up, each time after a longer pause. */
  tries?: number;
  /** What it carries; nothing when left out. */
  payload?: ZodType<JobPayloads[K]>;
  /** Over a whole library one piece of such work is done at a time: files must not move while words are written beside them. */
  alone?: boolean;
  /** Whether it finds out who, when or what: answers are final when no such work waits or runs. */
  answers?: boolean;
  /** Who hears how far it is. */
  topic?: Topic;
  /** Whether what it answers is kept with it, and the job with it, until it is asked for again. */
  keeps?: boolean;
  /** Does one job. Must be idempotent: after a crash it is done again from the start. What it answers is kept if `keeps` says so. */
  run: (app: App, job: Job<K>) => Promise<unknown>;
  /** Told when a job has failed for good. */
  gaveUp?: (app: App, job: Job<K>, why: Saying) => Promise<void>;
}

const kinds = new Map<JobKind, JobDefinition>();

/** Defines a kind of work. See `docs/adding.md`. */
export function defineJob<K extends JobKind>(definition: JobDefinition<K>): JobDefinition<K> {
  kinds.set(definition.kind, definition as unknown as JobDefinition);
  return definition;
}

/** A kind that was defined. */
export function kindOf(kind: JobKind): JobDefinition {
  const definition = kinds.get(kind);
  if (!definition) throw new Error(`There is no kind of work called ${String(kind)}.`);
  return definition;
}

/** Every kind that was defined. */
export const allKinds = (): JobDefinition[] => [...kinds.values()];
