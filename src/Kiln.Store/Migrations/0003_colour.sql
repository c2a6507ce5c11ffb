-- OpenColorIO configs that were brought in; the files lie in the data folder under the id.
create table colour_configs (
    id uuid primary key,
    name text not null,
    file text not null,
    hash text not null,
    added_by uuid not null references people (id),
    created timestamptz not null default now()
);

-- What the house has chosen, by key; the value is JSON text.
create table house_choices (
    key text primary key,
    value text not null,
    chosen_by uuid not null references people (id),
    chosen timestamptz not null default now()
);
