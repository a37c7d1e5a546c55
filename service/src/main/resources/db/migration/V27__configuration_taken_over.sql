-- A person took the unit's configuration over as it stands on the device: the plan's digest of it does not count any more.
alter table run_unit add column takes_over boolean not null default false;
