-- Pictures that somebody ordered: the look as it was then, how it is to be shown, and how far it is.
create table proof_orders (
    id uuid primary key,
    look_id uuid not null references looks (id) on delete cascade,
    look_name text not null,
    document bytea not null,
    working_space text not null,
    person_id uuid not null references people (id),
    asked jsonb not null,
    state text not null default 'waiting',
    done bigint not null default 0,
    total bigint not null,
    message text,
    created timestamptz not null default now()
);

create index on proof_orders (person_id, created desc);
