-- Which files a look is made of, its variants' included: where a map is used is asked of this.
alter table looks add column contents text[];
-- Name and tags in small letters: words are looked for in this.
alter table looks add column search text;
create index looks_contents on looks using gin (contents);

-- The same of versions; those of before name their candidates too, which does no harm.
alter table look_versions add column contents text[] not null default '{}';
update look_versions set contents = coalesce((select array_agg(distinct m[1]) from regexp_matches(document, '"content":"([0-9a-f]{64})"', 'g') m), '{}');
create index look_versions_contents on look_versions using gin (contents);

-- The newest measurement of a document is the one that searches believe.
alter table look_measures add column at timestamptz not null default now();

-- Sections of a collection; empty for those in none.
alter table collection_looks add column section text not null default '';

-- What people look for again and again, as the query it is.
create table saved_filters (
    id uuid primary key,
    person_id uuid not null references people (id),
    name text not null,
    query jsonb not null,
    created timestamptz not null default now(),
    unique (person_id, name)
);
