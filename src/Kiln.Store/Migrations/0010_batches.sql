-- A collection written for a dialect: one order, and a line for each look as it was then.
create table batches (
    id uuid primary key,
    collection_name text not null,
    dialect text not null,
    person_id uuid not null references people (id),
    cancelled boolean not null default false,
    created timestamptz not null default now()
);

create table batch_looks (
    batch_id uuid not null references batches (id) on delete cascade,
    position int not null,
    look_id uuid not null,
    name text not null,
    document bytea not null,
    working_space text not null,
    state text not null default 'waiting',
    message text,
    exact int not null default 0,
    approximated int not null default 0,
    baked int not null default 0,
    lost int not null default 0,
    bytes bigint not null default 0,
    seconds real not null default 0,
    file text,
    primary key (batch_id, position)
);

create index on batches (person_id, created desc);
