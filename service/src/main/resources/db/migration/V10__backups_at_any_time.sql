-- A backup may be taken outside of a run.
alter table backup alter column run_id drop not null;
alter table backup alter column unit_id drop not null;
