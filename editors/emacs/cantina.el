;;; cantina.el --- routines checked as you type, with Eglot  -*- lexical-binding: t -*-
;; Put this file in the load-path, and say in the init file: (require 'cantina)
;; Then M-x eglot in a buffer of a routine; M-x cantina-mode makes it so for all of them.

(require 'eglot)

(defgroup cantina nil "Stored procedures, functions and triggers." :group 'languages)

(defcustom cantina-command "cantina"
  "The program: a path, or a name that the shell finds."
  :type 'string)

(defun cantina--contact (&rest _)
  "How the language server is started."
  (list cantina-command "serve" "language"))

(add-to-list 'eglot-server-programs (cons 'sql-mode #'cantina--contact))

(defun cantina--project (dir)
  "The folder above DIR with a cantina.yaml, as a project."
  (let ((root (locate-dominating-file dir "cantina.yaml")))
    (and root (cons 'transient root))))

(add-hook 'project-find-functions #'cantina--project)

(define-minor-mode cantina-mode
  "Checks every routine that is opened."
  :global t
  (if cantina-mode
      (add-hook 'sql-mode-hook #'eglot-ensure)
    (remove-hook 'sql-mode-hook #'eglot-ensure)))

(provide 'cantina)
;;; cantina.el ends here
