-- What lists and searches need of a look, beside its document; written with it. Null until the server has filled in looks of before.
alter table looks add column tags text[] not null default '{}';
alter table looks add column roles text[] not null default '{}';
alter table looks add column hash text;
alter table looks add column archived timestamptz;
create index looks_changed on looks (changed desc);
create index collection_looks_look on collection_looks (look_id);

-- Measurements by the document and by what it was measured under (working space, profiles, config): the same look is measured once.
create table look_measures (
    hash text not null,
    under text not null,
    measures jsonb not null,
    primary key (hash, under)
);

-- A version waits for a lead, is published, or goes back to its artist. What it was made under is kept with it, so that it is written the same for ever.
alter table look_versions add column state text not null default 'published' check (state in ('in review', 'published', 'sent back'));
alter table look_versions add column judged_by uuid references people (id);
alter table look_versions add column judged_at timestamptz;
alter table look_versions add column judgement text not null default '';
alter table look_versions add column working_space text not null default 'acescg';
alter table look_versions add column space_names jsonb not null default '{}';
alter table look_versions add column profiles jsonb not null default '{}';

-- Texts of dialect profiles that published versions were made under, by SHA-256.
create table profile_texts (
    hash text primary key check (hash ~ '^[0-9a-f]{64}$'),
    text text not null
);

-- What a collection asks of its looks: a readable text, every change of it kept.
create table collection_rules (
    id uuid primary key,
    collection_id uuid not null references collections (id) on delete cascade,
    revision int not null,
    text text not null,
    person_id uuid not null references people (id),
    at timestamptz not null default now(),
    unique (collection_id, revision)
);
