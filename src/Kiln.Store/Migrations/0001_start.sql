create table people (
    id uuid primary key,
    name text not null unique,
    display_name text not null,
    role text not null check (role in ('viewer', 'artist', 'lead', 'admin')),
    password_hash text not null,
    created timestamptz not null default now()
);

create table deliveries (
    id uuid primary key,
    name text not null,
    state text not null check (state in ('receiving', 'analysing', 'ready', 'failed', 'cancelled')),
    message text,
    result text,
    files integer not null default 0,
    bytes bigint not null default 0,
    created_by uuid not null references people (id),
    created timestamptz not null default now(),
    changed timestamptz not null default now()
);
create index deliveries_created on deliveries (created desc);

-- What the content-addressed store holds; rows are written after the file is safe.
create table contents (
    hash text primary key check (hash ~ '^[0-9a-f]{64}$'),
    bytes bigint not null,
    created timestamptz not null default now()
);

create table delivery_contents (
    delivery_id uuid not null references deliveries (id) on delete cascade,
    hash text not null references contents (hash),
    path text not null,
    primary key (delivery_id, path)
);

create table looks (
    id uuid primary key,
    name text not null,
    document text not null,
    revision integer not null default 1,
    delivery_id uuid references deliveries (id) on delete set null,
    created_by uuid not null references people (id),
    created timestamptz not null default now(),
    changed timestamptz not null default now()
);
create index looks_name on looks (name);

create table look_history (
    look_id uuid not null references looks (id) on delete cascade,
    number integer not null,
    words text not null,
    edit text not null,
    inverse text not null,
    undone boolean not null default false,
    person_id uuid not null references people (id),
    at timestamptz not null default now(),
    primary key (look_id, number)
);

create table look_versions (
    id uuid primary key,
    look_id uuid not null references looks (id) on delete cascade,
    number integer not null,
    document text not null,
    hash text not null,
    note text not null,
    person_id uuid not null references people (id),
    at timestamptz not null default now(),
    unique (look_id, number)
);

create table collections (
    id uuid primary key,
    name text not null unique,
    created timestamptz not null default now()
);

create table collection_looks (
    collection_id uuid not null references collections (id) on delete cascade,
    look_id uuid not null references looks (id) on delete cascade,
    added timestamptz not null default now(),
    primary key (collection_id, look_id)
);
