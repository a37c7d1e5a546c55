-- A login may be whatever keys the service's SSH agent holds.
alter table login drop constraint login_kind_check;
alter table login add constraint login_kind_check check (kind in ('password', 'key', 'agent', 'snmp-v2c', 'snmp-v3'));
