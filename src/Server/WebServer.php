<?php

namespace Pestle\App\Server;

use Pestle\Core\Render\EngineServer;

/** Writes how nginx and PHP-FPM serve Pestle: on this machine only, within limits, all of their files in the data folder. */
final readonly class WebServer
{
    private const PROCESSES = 4;
    /** Those that wait for sound, so that pages never do; one more than the engine works on at once and keeps waiting. */
    private const SOUND_PROCESSES = EngineServer::MOST + 2;
    /** What is answered with sound, or with what was measured in it. */
    private const SOUND = '^/(?:beats/\d+/(?:loop|piece|measure|spectrum|pads/|keys/|samples/)|samples/|notes/)';
    /** Largest body; files are sent in parts of half of it. */
    private const BODY = '8m';
    /** Longest that a request may take, in seconds. */
    private const SECONDS = 70;
    private const TYPES = ['css' => 'text/css', 'js' => 'text/javascript', 'woff2' => 'font/woff2', 'svg' => 'image/svg+xml', 'png' => 'image/png'];
    /** What nginx refuses by itself, in words. */
    private const PROBLEMS = [
        'odd' => ['400 405 408 414 494', 400, 'This request is nothing that Pestle knows.'],
        'large' => ['413', 413, 'This is too much at once: files are sent in parts of 4 MB.'],
        'full' => ['500 507', 507, 'Pestle could not take this in: the disk may be full. Clear something under Space on the disk, or elsewhere, and try again.'],
        'away' => ['502 503 504', 503, 'Pestle is just starting, or busy for too long. Try again in a moment.'],
    ];

    public function __construct(private string $root, private string $folder, private string $socket, private string $log, private string $beside)
    {
    }

    /**
     * @return array{fpm: list<string>, nginx: list<string>} the command of each
     *
     * @throws \RuntimeException when the folder can't be written
     */
    public function prepare(int $port): array
    {
        @mkdir($this->folder.'/tmp', 0o700, true);
        foreach (['nginx.conf' => $this->nginx($port), 'fpm.conf' => $this->fpm()] as $name => $text) {
            if (false === @file_put_contents($this->folder.'/'.$name, $text)) {
                throw new \RuntimeException(\sprintf('%s/%s cannot be written.', $this->folder, $name));
            }
        }
        $asRoot = 0 === posix_geteuid() ? ['-R'] : [];

        return [
            'fpm' => ['/usr/sbin/php-fpm8.2', '-F', '-y', $this->folder.'/fpm.conf', ...$asRoot],
            'nginx' => ['/usr/sbin/nginx', '-e', 'stderr', '-c', $this->folder.'/nginx.conf', '-p', $this->folder],
        ];
    }

    private function nginx(int $port): string
    {
        $user = 0 === posix_geteuid() ? "user root;\n" : '';
        $types = implode(' ', array_map(static fn (string $ending, string $type): string => "$type $ending;", array_keys(self::TYPES), self::TYPES));
        $pages = $places = '';
        foreach (self::PROBLEMS as $name => [$codes, $status, $sentence]) {
            $pages .= "        error_page $codes /problem/$name;\n";
            $places .= \sprintf("        location = /problem/%s { internal; default_type application/json; return %d '%s'; }\n", $name, $status, json_encode(['error' => $sentence], \JSON_THROW_ON_ERROR));
        }
        [$folder, $public, $body, $seconds, $sound] = [$this->folder, $this->root.'/public', self::BODY, self::SECONDS, self::SOUND];

        return <<<CONF
            {$user}daemon off;
            worker_processes 1;
            pid "$folder/nginx.pid";
            error_log stderr error;
            events { worker_connections 256; }
            http {
                types { $types }
                default_type application/octet-stream;
                access_log off;
                server_tokens off;
                sendfile on;
                client_max_body_size $body;
                client_header_timeout 15s;
                client_body_timeout 30s;
                send_timeout 60s;
                client_body_temp_path "$folder/tmp/body";
                fastcgi_temp_path "$folder/tmp/fastcgi";
                proxy_temp_path "$folder/tmp/proxy";
                uwsgi_temp_path "$folder/tmp/uwsgi";
                scgi_temp_path "$folder/tmp/scgi";
                gzip on;
                gzip_types text/css text/javascript application/json image/svg+xml;
                server {
                    listen 127.0.0.1:$port;
                    root "$public";
            $pages
                    fastcgi_param SCRIPT_FILENAME "$public/index.php";
                    fastcgi_param SCRIPT_NAME /index.php;
                    fastcgi_param DOCUMENT_ROOT "$public";
                    fastcgi_param REQUEST_METHOD \$request_method;
                    fastcgi_param REQUEST_URI \$request_uri;
                    fastcgi_param QUERY_STRING \$query_string;
                    fastcgi_param CONTENT_TYPE \$content_type;
                    fastcgi_param CONTENT_LENGTH \$content_length;
                    fastcgi_param SERVER_PROTOCOL \$server_protocol;
                    fastcgi_param SERVER_NAME 127.0.0.1;
                    fastcgi_param SERVER_PORT \$server_port;
                    fastcgi_param REMOTE_ADDR \$remote_addr;
                    fastcgi_read_timeout {$seconds}s;
                    fastcgi_max_temp_file_size 0;
                    fastcgi_buffers 32 64k;
                    fastcgi_buffer_size 64k;
                    location /build/ {
                        add_header Cache-Control no-cache;
                        add_header X-Content-Type-Options nosniff;
                        try_files \$uri @page;
                    }
                    location ~ "^/beside/([a-z0-9-]+)\$" {
                        proxy_pass "http://unix:{$this->beside}/\$1.sock:/";
                        proxy_http_version 1.1;
                        proxy_set_header Upgrade \$http_upgrade;
                        proxy_set_header Connection upgrade;
                        proxy_set_header Host \$http_host;
                        proxy_read_timeout 1h;
                        proxy_send_timeout 1h;
                    }
                    location / { rewrite ^ /page last; }
                    location @page { rewrite ^ /page last; }
                    location = /page { internal; fastcgi_pass "unix:{$this->socket}"; }
                    location ~ "$sound" { fastcgi_pass "unix:{$this->soundSocket()}"; }
            $places
                }
            }

            CONF;
    }

    private function soundSocket(): string
    {
        return preg_replace('/\.sock$/', '', $this->socket).'-sound.sock';
    }

    private function fpm(): string
    {
        return <<<CONF
            [global]
            pid = "{$this->folder}/fpm.pid"
            error_log = "{$this->log}"
            log_level = warning
            daemonize = no

            CONF.self::pool('pages', $this->socket, self::PROCESSES).self::pool('sound', $this->soundSocket(), self::SOUND_PROCESSES);
    }

    private static function pool(string $name, string $socket, int $processes): string
    {
        $seconds = self::SECONDS;
        $user = 0 === posix_geteuid() ? "user = root\n" : '';

        return <<<CONF
            [$name]
            {$user}listen = "$socket"
            listen.mode = 0600
            pm = static
            pm.max_children = $processes
            pm.max_requests = 2000
            request_terminate_timeout = {$seconds}s
            clear_env = no
            catch_workers_output = yes
            decorate_workers_output = no
            php_admin_value[max_execution_time] = $seconds

            CONF;
    }
}
