-- Contact sheets and look sheets that were ordered: of a collection, or of looks that were chosen.
create table sheets (
    id uuid primary key,
    kind text not null,
    title text not null,
    looks uuid[] not null,
    person_id uuid not null references people (id),
    state text not null default 'waiting',
    done int not null default 0,
    message text,
    files text[] not null default '{}',
    created timestamptz not null default now()
);
create index sheets_of on sheets (person_id, created desc);
