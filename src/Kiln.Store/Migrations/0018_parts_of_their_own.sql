-- What a part has of its own over the look that it shares: a placement, a tint, values; and the UVs that are made for it, null for the file's.
alter table model_parts add column own jsonb not null default '{}';
alter table model_parts add column projection text
    check (projection in ('box', 'front', 'side', 'top', 'cylinder', 'sphere'));
