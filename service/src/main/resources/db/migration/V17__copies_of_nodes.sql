-- The copies that each node serves just now, so that every node can show all of them.
create table node_copies (
    node text primary key,
    copies text not null,
    told_at timestamptz not null
);
