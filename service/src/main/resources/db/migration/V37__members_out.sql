-- Members whose absence a step is stuck at, and those that a person goes on without.
alter table run_step add column members_out text not null default '';
alter table run_unit add column without text not null default '';
