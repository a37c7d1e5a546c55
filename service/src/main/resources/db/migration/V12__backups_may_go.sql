-- Backups may go when they are old; whoever asks, nothing younger than 30 days does, and nothing is ever changed.
create function refuse_change_of_backup() returns trigger language plpgsql as $$
begin
    if tg_op = 'DELETE' and old.taken_at < now() - interval '30 days' then
        return old;
    end if;
    raise exception 'rows of % are only ever added, and go when they are older than 30 days', tg_table_name;
end $$;
drop trigger only_added on backup;
create trigger only_added before update or delete on backup for each row execute function refuse_change_of_backup();
