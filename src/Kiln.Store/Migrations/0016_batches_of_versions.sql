-- The published version that is written; null for a draft, a look as it was when the batch was ordered.
alter table batch_looks add column version integer;
