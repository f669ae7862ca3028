"""Makers, motors and propellers that are on the bench twice: found, looked at, made one."""
