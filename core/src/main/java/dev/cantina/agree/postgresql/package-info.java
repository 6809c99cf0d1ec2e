/** Cases that PostgreSQL runs itself. */
package dev.cantina.agree.postgresql;
