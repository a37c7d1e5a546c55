-- A login may be a private key in place of a password.
alter table login drop constraint login_kind_check;
alter table login add constraint login_kind_check check (kind in ('password', 'key', 'snmp-v2c', 'snmp-v3'));
