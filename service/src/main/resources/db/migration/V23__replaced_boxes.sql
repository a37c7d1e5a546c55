-- The box that a person put in the place of the one that was planned.
alter table run_unit add column serial text;
