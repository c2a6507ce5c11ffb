-- The materials that a model's file has: what they name and their values; the look that was made of each.
create table model_materials (
    model_id uuid not null references models (id) on delete cascade,
    number integer not null,
    name text not null,
    document text not null,
    look_id uuid references looks (id) on delete set null,
    primary key (model_id, number)
);
-- Which of them a part has, and how its maps lie on it; null for what came in before these were kept.
alter table model_parts add column material_at integer;
alter table model_parts add column figures jsonb;
