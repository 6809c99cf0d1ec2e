/** Cases that MariaDB runs itself. */
package dev.cantina.agree.mariadb;
