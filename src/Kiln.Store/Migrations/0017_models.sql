-- Models that came with a delivery: their parts, and which look lies on each. The triangles are a packed file in the store.
create table models (
    id uuid primary key,
    name text not null,
    path text not null,
    format text not null,
    up_axis text not null check (up_axis in ('X', 'Y', 'Z')),
    meters_per_unit double precision not null,
    remarks text[] not null,
    packed text not null references contents (hash),
    delivery_id uuid references deliveries (id) on delete set null,
    created_by uuid not null references people (id),
    created timestamptz not null default now()
);
create index models_of_delivery on models (delivery_id);

create table model_parts (
    model_id uuid not null references models (id) on delete cascade,
    number integer not null,
    path text not null,
    name text not null,
    material text,
    triangles integer not null,
    uv_sets text[] not null,
    area double precision not null,
    size real[] not null,
    -- What lies on it; how that came about, and why. Without a look: which looks its names could mean.
    look_id uuid references looks (id) on delete set null,
    bound_by text check (bound_by in ('name', 'person')),
    confidence real,
    reasons text[] not null default '{}',
    candidates uuid[] not null default '{}',
    primary key (model_id, number),
    unique (model_id, path)
);
create index model_parts_of_look on model_parts (look_id);

-- Model files of a delivery that could not be read, with a sentence each.
create table refused_models (
    delivery_id uuid not null references deliveries (id) on delete cascade,
    path text not null,
    reason text not null,
    primary key (delivery_id, path)
);
