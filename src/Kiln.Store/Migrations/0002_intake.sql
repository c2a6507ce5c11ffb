-- A delivery may lie in a folder of the server, may wait, and may be taken up again after the server stopped.
alter table deliveries add column source text;
alter table deliveries drop constraint deliveries_state_check;
alter table deliveries add constraint deliveries_state_check check (state in ('receiving', 'analysing', 'paused', 'ready', 'failed', 'cancelled'));

-- What the house says about names. Rules are switched off rather than removed while deliveries were read by them.
create table naming_rules (
    id uuid primary key,
    rule text not null,
    enabled boolean not null default true,
    author uuid not null references people (id),
    reason text not null default '',
    created timestamptz not null default now()
);

-- Folders of the server from which deliveries may be taken; only an admin adds them.
create table server_folders (
    id uuid primary key,
    path text not null unique,
    name text not null,
    added_by uuid not null references people (id),
    created timestamptz not null default now()
);
