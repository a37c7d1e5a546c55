-- What a step leaves for the record is large (whole readings) and seldom looked at: it stands apart, and the step keeps what is shown of it.
create table step_evidence (
    step_id bigint primary key references run_step,
    body text not null
);
insert into step_evidence (step_id, body) select id, evidence from run_step where evidence is not null;
alter table run_step add column shown text;
update run_step set shown = evidence where evidence is not null and name in ('prove', 'soak');
alter table run_step drop column evidence;
