-- The space a collection is worked in; null follows the house.
alter table collections add column working_space text;
