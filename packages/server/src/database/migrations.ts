import { sql, type Kysely, type Migration } from 'kysely';

/** In order; a migration that has shipped is never edited, a new one follows it. */
export const migrations: Record<string, Migration> = {
  '0001-first-light': {
    async up(db: Kysely<unknown>) {
      await sql`
        create table shots (
          id uuid primary key default gen_random_uuid(),
          name text not null,
          working_space text not null,
          viewing jsonb not null,
          rate double precision not null,
          ledger_head integer not null,
          balance jsonb,
          demo boolean not null default false,
          updated_at timestamptz not null default now());
        create table sources (
          id uuid primary key default gen_random_uuid(),
          shot_id uuid not null references shots on delete cascade,
          folder text not null,
          pattern text not null,
          facts jsonb not null,
          declared_space text,
          confirmed boolean not null default false,
          position serial);
        create index on sources (shot_id);
        create table ledger_revisions (
          shot_id uuid not null references shots on delete cascade,
          number integer not null,
          parent integer,
          document jsonb not null,
          summary text not null,
          created_at timestamptz not null default now(),
          primary key (shot_id, number));
        create table outputs (
          id uuid primary key default gen_random_uuid(),
          shot_id uuid not null references shots on delete cascade,
          settings jsonb not null,
          position serial);
        create index on outputs (shot_id);
        create table runs (
          id uuid primary key default gen_random_uuid(),
          output_id uuid not null references outputs on delete cascade,
          state text not null,
          recipe jsonb not null,
          started_at timestamptz not null default now(),
          finished_at timestamptz);
        create index on runs (output_id);
        create table run_frames (
          run_id uuid not null references runs on delete cascade,
          frame integer not null,
          state text not null,
          message text,
          milliseconds double precision,
          bytes double precision,
          read_back jsonb,
          primary key (run_id, frame))`.execute(db);
    },
  },
  '002 roles that a person gave': {
    async up(db) {
      await sql`create table role_habits (name text primary key, role text not null)`.execute(db);
    },
  },
  '003 the Library: configs, LUTs and CDLs': {
    async up(db) {
      await sql`
        create table library_items (
          id text primary key,
          kind text not null,
          name text not null,
          facts jsonb not null,
          use jsonb,
          created_at timestamptz not null default now());
        alter table shots add column config_id text references library_items`.execute(db);
    },
  },
  '004 how sources are read, what was found in them, rules for spaces': {
    async up(db) {
      await sql`
        alter table sources
          add column reading jsonb not null default '{}',
          add column silenced jsonb not null default '{}',
          add column confirmed_by text,
          add column checked_at timestamptz,
          add column check_full boolean not null default false,
          add column check_failure text;
        update sources set facts = '{"fileKind":"exr","step":1,"alpha":"none","range":null,"findings":[]}'::jsonb || facts;
        create table source_files (
          source_id uuid not null references sources on delete cascade,
          file text not null,
          frame integer not null,
          bytes double precision not null,
          modified_at double precision not null,
          primary key (source_id, file));
        create table space_rules (
          id uuid primary key default gen_random_uuid(),
          folder text not null,
          file_kind text,
          space text not null,
          created_at timestamptz not null default now())`.execute(db);
    },
  },
  '005 variables of configs; looks of adjustments': {
    async up(db) {
      await sql`
        alter table shots add column variables jsonb not null default '{}';
        update runs set recipe = jsonb_set(recipe, '{colour}',
          (recipe->'colour') - 'look' || jsonb_build_object('variables', '{}'::jsonb, 'looks',
            case when recipe->'colour'->>'look' is null then '[]'::jsonb else jsonb_build_array(recipe->'colour'->'look') end))
          where recipe->'colour' ? 'look'`.execute(db);
    },
  },
  '006 what files are, by content too; a balance for each frame': {
    async up(db) {
      await sql`
        alter table source_files
          add column changed_at double precision,
          add column print text,
          add column now text;
        create index on source_files (source_id, frame);
        alter table sources add column stamp text not null default '';
        alter table shots drop column balance;
        create table balances (
          shot_id uuid not null references shots on delete cascade,
          frame integer not null,
          revision integer not null,
          files text not null,
          proof jsonb not null,
          primary key (shot_id, frame))`.execute(db);
    },
  },
  '007 one run of an output at a time; workers that live; takes of a frame': {
    async up(db) {
      await sql`
        update runs r set state = 'cancelled', finished_at = now() where state = 'running'
          and exists (select 1 from runs o where o.output_id = r.output_id and o.state = 'running' and o.started_at > r.started_at);
        create unique index runs_one_running on runs (output_id) where state = 'running';
        alter table run_frames add column take integer not null default 0;
        create table queue_workers (id text primary key, seen_at timestamptz not null)`.execute(db);
    },
  },
  '008 what written files were': {
    async up(db) {
      await sql`
        alter table run_frames
          add column written jsonb,
          add column replaced boolean not null default false`.execute(db);
    },
  },
  '009 remembered places': {
    async up(db) {
      await sql`alter table shots add column places jsonb not null default '[]'`.execute(db);
    },
  },
  '010 reference proofs': {
    async up(db) {
      await sql`
        alter table shots
          add column match jsonb not null default '{}',
          add column match_before jsonb;
        create table reference_proofs (
          shot_id uuid primary key references shots on delete cascade,
          made_from text not null,
          proof jsonb not null)`.execute(db);
    },
  },
  '011 set-ups that new shots start from': {
    async up(db) {
      await sql`
        create table set_ups (
          id uuid primary key default gen_random_uuid(),
          name text not null unique,
          config_id text references library_items,
          variables jsonb not null,
          working_space text not null,
          viewing jsonb not null,
          rate double precision not null)`.execute(db);
    },
  },
  '012 recipes': {
    async up(db) {
      await sql`
        create table recipes (
          id uuid primary key default gen_random_uuid(),
          name text not null unique,
          recipe jsonb not null)`.execute(db);
    },
  },
  '013 runs that pause, and fail as a whole': {
    async up(db) {
      await sql`
        alter table runs add column message text;
        drop index runs_one_running;
        create unique index runs_one_open on runs (output_id) where state in ('running', 'paused')`.execute(db);
    },
  },
  '014 who has a frame in hand': {
    async up(db) {
      await sql`alter table run_frames add column taken_by text`.execute(db);
    },
  },
  '015 what was accepted before writing': {
    async up(db) {
      await sql`alter table outputs add column accepted jsonb not null default '[]'`.execute(db);
    },
  },
};
