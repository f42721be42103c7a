import type { ColourKey, FileKind, LedgerDocument, PassRole, Recipe } from '@june-haze/core';
import type {
  Accepted,
  BalanceProof,
  LibraryFacts,
  LutUse,
  MatchBefore,
  MatchChoice,
  OutputSettings,
  ReadBack,
  ReferenceProof,
  SourceFacts,
  SourceReading,
  RememberedPlace,
  Viewing,
} from '@june-haze/contract';
import type { ColumnType, Generated, JSONColumnType } from 'kysely';

type Created = ColumnType<Date, never, never>;

export interface Database {
  shots: {
    id: Generated<string>;
    name: string;
    working_space: string;
    viewing: JSONColumnType<Viewing>;
    /** A config of the Library; null for the built-in one. */
    config_id: string | null;
    /** Values of the config's variables, above its own defaults. */
    variables: ColumnType<Record<string, string>, string | undefined, string>;
    /** Places in its pictures that people return to. */
    places: ColumnType<RememberedPlace[], string | undefined, string>;
    /** What is compared in Match, where a person chose it. */
    match: ColumnType<Partial<MatchChoice>, string | undefined, string>;
    /** What was set before a row of the finder was applied. */
    match_before: ColumnType<MatchBefore | null, string | null | undefined, string | null>;
    rate: number;
    /** The ledger revision in force. */
    ledger_head: number;
    demo: Generated<boolean>;
    updated_at: ColumnType<Date, never, Date>;
  };
  reference_proofs: {
    shot_id: string;
    /** All that it depends on: it stands for as long as that is the same. */
    made_from: string;
    proof: JSONColumnType<ReferenceProof>;
  };
  sources: {
    id: Generated<string>;
    shot_id: string;
    folder: string;
    pattern: string;
    facts: JSONColumnType<SourceFacts>;
    declared_space: string | null;
    confirmed: boolean;
    /** The saved rule that confirmed it, in words. */
    confirmed_by: string | null;
    position: Generated<number>;
    reading: JSONColumnType<Partial<SourceReading>, string | undefined, string>;
    /** Reasons by the key of the problem that was silenced. */
    silenced: JSONColumnType<Record<string, string>, string | undefined, string>;
    /** When all its files were looked at; null while that is under way. */
    checked_at: Date | null;
    /** Every frame's pixels are to be looked at. */
    check_full: Generated<boolean>;
    check_failure: string | null;
    /** A hash over what its files are now; see intake/fileStamps.ts. */
    stamp: Generated<string>;
  };
  /** The files that a source was found to have, as they were then. */
  source_files: {
    source_id: string;
    file: string;
    frame: number;
    bytes: number;
    modified_at: number;
    /** When anything of it changed. Null for files that were looked at before this was kept. */
    changed_at: number | null;
    /** A hash over places of its content. */
    print: string | null;
    /** Its identity since it changed, or "gone"; null while it is as it was looked at. */
    now: ColumnType<string | null, string | null | undefined, string | null>;
  };
  /** Each frame's balance, for the ledger revision and the files that it was computed from. */
  balances: {
    shot_id: string;
    frame: number;
    revision: number;
    files: string;
    proof: JSONColumnType<BalanceProof>;
  };
  /** "Pictures in this folder are …": what a person said once for all. */
  space_rules: {
    id: Generated<string>;
    folder: string;
    file_kind: FileKind | null;
    space: string;
    created_at: Created;
  };
  /** Rows and mattes that are kept to be used in other shots. */
  recipes: { id: Generated<string>; name: string; recipe: JSONColumnType<Recipe> };
  /** What new shots may start from. */
  set_ups: {
    id: Generated<string>;
    name: string;
    config_id: string | null;
    variables: JSONColumnType<Record<string, string>>;
    working_space: string;
    viewing: JSONColumnType<Viewing>;
    rate: number;
  };
  /** Configs, LUTs and CDLs by the hash of their content, which lies in the library folder. */
  library_items: {
    id: string;
    kind: 'config' | 'lut' | 'cdl';
    name: string;
    facts: JSONColumnType<LibraryFacts>;
    use: JSONColumnType<LutUse> | null;
    created_at: Created;
  };
  /** Roles that a person gave to passes, by name: taken for the next sources with such passes. */
  role_habits: { name: string; role: PassRole };
  ledger_revisions: {
    shot_id: string;
    number: number;
    parent: number | null;
    document: JSONColumnType<LedgerDocument>;
    summary: string;
    created_at: Created;
  };
  outputs: {
    id: Generated<string>;
    shot_id: string;
    settings: JSONColumnType<OutputSettings>;
    position: Generated<number>;
    accepted: ColumnType<Accepted[], string | undefined, string>;
  };
  runs: {
    id: Generated<string>;
    output_id: string;
    state: 'running' | 'paused' | 'done' | 'failed' | 'cancelled';
    /** Why the whole of it failed, where no frame did. */
    message: string | null;
    /** Everything the frames are made from, frozen when the run began. */
    recipe: JSONColumnType<RunRecipe>;
    started_at: Created;
    finished_at: Date | null;
  };
  run_frames: {
    run_id: string;
    frame: number;
    state: 'waiting' | 'writing' | 'done' | 'failed' | 'cancelled';
    message: string | null;
    milliseconds: number | null;
    bytes: number | null;
    read_back: JSONColumnType<ReadBack> | null;
    /** What its file was when it was read back; absent in runs from before this was kept. */
    written: JSONColumnType<WrittenFile> | null;
    /** Its file is another now, or gone. */
    replaced: Generated<boolean>;
    /** The process that took it last: its machine and number. */
    taken_by: string | null;
    /** Counts the times it was begun: only the last one's result is kept. */
    take: Generated<number>;
  };
  /** The queue's pools of workers, one a process, and when each last said that it lives. */
  queue_workers: { id: string; seen_at: Date };
}

/** What says of a file that it is the one that was written. */
export interface WrittenFile {
  bytes: number;
  modifiedAt: number;
  changedAt: number;
  print: string | null;
  /** Of a frame that is several files, the others in order. */
  others?: Omit<WrittenFile, 'others'>[];
}

/** What a person says of a source that its pixels depend on. */
export interface DeclaredSource {
  id: string;
  space: string | null;
  reading: SourceReading;
  /** Where its files lie, and a hash over what those of the run's frames are. Absent in runs from before this was kept. */
  place?: string;
  files?: string;
  /** The same over names, sizes and times; absent in runs from before it was kept. */
  names?: string;
  /** Whether the content of all had been looked at; null: not even their names. */
  printed?: boolean | null;
}

/** Frozen when a run begins; read by `wholeRecipe`, which gives settings that came later their usual values. */
export interface RunRecipe {
  document: LedgerDocument;
  workingSpace: string;
  viewing: Viewing;
  /** Absent in runs from before there was a Library. */
  colour?: ColourKey;
  /** Of the sources that the ledger uses. Absent in runs from before it was kept. */
  declared?: DeclaredSource[];
  rate: number;
  settings: OutputSettings;
  pattern: string;
  width: number;
  height: number;
  /** What somebody accepted before it was written, and why; no pixel depends on it. */
  accepted?: Accepted[];
}
