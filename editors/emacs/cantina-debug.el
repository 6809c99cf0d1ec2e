;;; cantina-debug.el --- routines debugged in their source, with dap-mode  -*- lexical-binding: t -*-
;; Put this file in the load-path beside cantina.el, and say in the init file: (require 'cantina-debug)
;; M-x dap-breakpoint-toggle in a line of a routine, then M-x cantina-debug.

;; Releases of dap-mode from before 0.8 name this without making it.
(defvar dap-exception-breakpoints nil)
(require 'dap-mode)
(require 'cantina)

(defun cantina--provide (settings)
  "How a debug session of SETTINGS is started."
  (plist-put settings :dap-server-path (list cantina-command "serve" "debug")))

(dap-register-debug-provider "cantina" #'cantina--provide)

(defun cantina--routine-here ()
  "The name of the routine around point."
  (save-excursion
    (end-of-line)
    (and (re-search-backward
          "\\_<\\(?:procedure\\|function\\)[ \t\n]+\\(?:if[ \t\n]+not[ \t\n]+exists[ \t\n]+\\)?\\([[:word:]_.]+\\)"
          nil t)
         (match-string-no-properties 1))))

(defvar cantina--arguments (make-hash-table :test #'equal)
  "What each routine was given last.")

(defun cantina-debug (routine arguments)
  "Debug ROUTINE with ARGUMENTS, a list of NAME=VALUE."
  (interactive
   (let ((routine (read-string "Routine: " (cantina--routine-here))))
     (list routine
           (split-string-and-unquote
            (read-string "NAME=VALUE … (quotes around blanks): "
                         (gethash routine cantina--arguments ""))))))
  (puthash routine (combine-and-quote-strings arguments) cantina--arguments)
  (let ((root (expand-file-name (or (locate-dominating-file default-directory "cantina.yaml")
                                    (user-error "There is no cantina.yaml above this file")))))
    (dap-debug (list :type "cantina" :request "launch" :name routine :project root :cwd root
                     :routine routine :arguments (vconcat arguments)))))

(provide 'cantina-debug)
;;; cantina-debug.el ends here
