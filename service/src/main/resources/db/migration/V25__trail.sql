-- What happens outside of runs follows from each other too.
create or replace function append_event(of_run bigint, its_subject text, its_kind text, moment timestamptz, by_whom text, its_text text, told text) returns void as $$
declare
    previous text;
begin
    perform pg_advisory_xact_lock(26040);
    if of_run is null then
        select e.hash into previous from event e where e.run_id is null order by e.id desc limit 1;
    else
        select e.hash into previous from event e where e.run_id = of_run order by e.id desc limit 1;
    end if;
    previous := coalesce(previous, '');
    insert into event (run_id, subject, kind, at, who, text, previous_hash, hash)
    values (of_run, its_subject, its_kind, moment, by_whom, its_text, previous, encode(sha256(convert_to(previous || E'\n' || told, 'UTF8')), 'hex'));
end
$$ language plpgsql;
