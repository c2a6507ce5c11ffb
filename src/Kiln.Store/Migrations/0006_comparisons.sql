-- Walls of proofs that somebody wants to see again: what stands in rows and columns, and how it is looked at.
create table comparisons (
    id uuid primary key,
    name text not null,
    wall jsonb not null,
    made_by uuid not null references people (id),
    revision int not null default 1,
    changed timestamptz not null default now()
);
