-- A plan may say that what is odd behind a restart is judged at the end of the path, not before the next restart.
alter table run add column goes_on_when_odd boolean not null default false;
alter table run_unit add column passed_over text not null default '';
