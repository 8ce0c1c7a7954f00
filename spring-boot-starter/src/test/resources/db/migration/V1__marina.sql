create table pier (pier_id integer primary key);
insert into pier values (1);
