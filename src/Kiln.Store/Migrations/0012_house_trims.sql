-- Trims that hold for all looks of a collection in one dialect, for as long as they stand.
create table house_trims (
    collection_id uuid not null references collections (id) on delete cascade,
    dialect text not null,
    trims jsonb not null,
    person_id uuid not null references people (id),
    at timestamptz not null default now(),
    primary key (collection_id, dialect)
);

-- Those that a version was made under are kept with it.
alter table look_versions add column house_trims jsonb not null default '{}';
