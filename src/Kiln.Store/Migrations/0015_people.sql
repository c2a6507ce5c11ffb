alter table people add column disabled boolean not null default false;
alter table people add column last_seen timestamptz;

-- A session is ended by signing out, by a change of role, password or state, or by an admin; an ended one is kept for the record.
create table sessions (
    id uuid primary key,
    person_id uuid not null references people (id) on delete cascade,
    created timestamptz not null default now(),
    last_seen timestamptz not null default now(),
    ended timestamptz,
    address text not null default '',
    browser text not null default ''
);
create index sessions_of_person on sessions (person_id) where ended is null;

-- A link that lets somebody choose a password once: the first admin of an empty house (no person yet), an invitation, a reset. Only its hash is kept.
create table person_links (
    hash text primary key,
    person_id uuid references people (id) on delete cascade,
    role text check (role in ('viewer', 'artist', 'lead', 'admin')),
    made timestamptz not null default now(),
    expires timestamptz not null,
    used timestamptz
);

-- Who did what to whom; written in the same transaction as what it tells of.
create table audit (
    number bigint generated always as identity primary key,
    at timestamptz not null default now(),
    person text not null,
    action text not null,
    subject text not null,
    detail text not null default '',
    address text not null default ''
);
create index audit_at on audit (at desc);

-- What came in an archive stands under the name that the archive gives, marked as such, never under a local person's.
alter table look_history add column origin text;
alter table look_versions add column origin text;
