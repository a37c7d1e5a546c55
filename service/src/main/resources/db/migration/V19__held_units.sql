-- One unit may be held, beside its run.
alter table run_unit add column held boolean not null default false;
