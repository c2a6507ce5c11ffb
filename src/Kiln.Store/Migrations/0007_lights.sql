-- Lights that people brought: lat-long pictures, by the content they are stored as.
create table own_lights (
    id uuid primary key,
    name text not null unique,
    content text not null,
    made_by uuid not null references people (id),
    created timestamptz not null default now()
);
