--liquibase formatted sql

--changeset una:1
create table pier (pier_id integer primary key);
insert into pier values (1);
