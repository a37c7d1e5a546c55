-- What a person has one question of a device answered with, once; empty where nobody said.
alter table run_unit add column answer text;
