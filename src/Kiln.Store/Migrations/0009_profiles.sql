-- Dialect profiles of the house. A profile is never changed: what replaces it is a further version; the newest that is in force stands for its dialect.
create table dialect_profiles (
    id uuid primary key,
    dialect text not null,
    version int not null,
    text text not null,
    note text not null,
    in_force boolean not null default true,
    person_id uuid not null references people (id),
    created timestamptz not null default now(),
    unique (dialect, version)
);

create unique index on dialect_profiles (dialect) where in_force;
