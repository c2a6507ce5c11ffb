-- Findings that somebody looked at and accepted, with the reason; the subject is a lane's address or a slot.
create table accepted_findings (
    look_id uuid not null references looks (id) on delete cascade,
    code text not null,
    subject text not null,
    reason text not null,
    person_id uuid not null references people (id),
    at timestamptz not null default now(),
    primary key (look_id, code, subject)
);

-- Named chains of steps, kept for reuse in the house.
create table kept_chains (
    id uuid primary key,
    name text not null unique,
    words text not null,
    steps text not null,
    made_by uuid not null references people (id),
    created timestamptz not null default now()
);
