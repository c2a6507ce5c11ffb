-- Which files a look is made of, its variants' included: where a map is used is asked of this.
alter table looks add column contents text[];
create index looks_contents on looks using gin (contents);

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
