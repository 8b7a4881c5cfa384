//! The running application from outside, each test with a database and a server of its own, and many with a browser.

mod accessible;
mod attacks;
mod backups;
mod book;
mod classes;
mod doors;
mod floor;
mod harm;
mod https;
mod in_place;
mod journey;
mod narrow;
mod pages;
mod paper;
mod putting_right;
mod replica;
mod store;
mod typing;
mod walks;
mod week;
