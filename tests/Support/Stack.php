<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Symfony\Component\Process\Process;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\Core\Address\Url;

/** The whole installation as a person starts it, in a data folder and on ports of its own. */
final class Stack
{
    private ?\PDO $database = null;
    private ?string $cookie = null;
    public readonly int $port;

    /**
     * @param array<string, string> $environment of the start
     * @param int|null $port ports of its own, if null
     */
    public function __construct(public readonly string $data, private readonly array $environment = [], ?int $port = null)
    {
        $this->port = $port ?? FreePort::row();
    }

    /**
     * @param list<string> $options
     * @param array<string, string> $environment of this start besides
     *
     * @return array{int, string} exit status, and what was printed
     */
    public function start(array $options = [], array $environment = []): array
    {
        return self::run(
            [self::root().'/bin/start', '--data', $this->data, '--port', (string) $this->port, ...$options],
            $environment + $this->environment
                + ['APP_ENV' => 'prod', 'STANDIN_SITES' => self::root().'/tests/Support/traps.php', 'YPOMNA_WORKERS' => '1'],
        );
    }

    /**
     * @return array{int, string}
     */
    public function stop(): array
    {
        $this->database = null;

        return self::run([self::root().'/bin/stop', '--data', $this->data]);
    }

    /**
     * @return array{int, string}
     */
    public function ypomna(string ...$words): array
    {
        return $this->ypomnaIn([], ...$words);
    }

    /**
     * @param array<string, string> $environment
     *
     * @return array{int, string}
     */
    public function ypomnaIn(array $environment, string ...$words): array
    {
        return self::run(
            ['php', self::root().'/bin/ypomna', ...array_values($words)],
            $environment + ['YPOMNA_DATA' => $this->data, 'APP_ENV' => 'prod'],
        );
    }

    /** What a request of somebody who has signed in carries: a custodian that the test has made. */
    public function cookie(): string
    {
        return $this->cookie ??= $this->signIn('The Tester', 'custodian', 'what nobody guesses');
    }

    /** @return string a header field */
    public function signIn(string $name, string $role, #[\SensitiveParameter] string $password): string
    {
        $add = new Process(
            ['php', self::root().'/bin/ypomna', 'person:add', $name, '--role', $role, '--password-stdin'], self::root(),
            ['YPOMNA_DATA' => $this->data, 'APP_ENV' => 'prod'], $password."\n",
        );
        $add->mustRun();
        [$form, $fields] = $this->asked('/sign-in');
        if (1 !== preg_match('/name="_token" value="([^"]+)"/', $form, $m)) {
            throw new \RuntimeException('There is no form to sign in by: '.substr($form, 0, 500));
        }
        $typed = http_build_query(['_token' => $m[1], 'name' => $name, 'password' => $password]);
        [$said, $fields] = $this->asked('/sign-in', 'POST', self::cookieOf($fields), $typed);
        if ([] === preg_grep('~^HTTP/1\.1 303~', $fields)) {
            throw new \RuntimeException($name.' was not let in: '.substr($said, 0, 2_000));
        }

        return self::cookieOf($fields);
    }

    /** At which host of archived pages, with its port, the custodian reads what a capture has of another host. */
    public function pageHost(string $code, string $host): string
    {
        return 1 === preg_match('~<iframe[^>]*//([a-z2-7]{26})[as]h-~', $this->page('/c/'.$code), $m)
            ? (new PageHosts('localhost'))->hostOf(Url::parse('http://'.$host.'/'), $m[1], ReplayMode::Alive).':'.$this->port
            : throw new \RuntimeException('The capture '.$code.' is not read.');
    }

    /** What a page of the application says to the custodian. */
    public function page(string $path): string
    {
        return $this->asked($path, 'GET', $this->cookie())[0];
    }

    /** @return array{string, list<string>} body, and status line and header fields */
    private function asked(string $path, string $method = 'GET', string $cookie = '', string $body = ''): array
    {
        $fields = ['Content-Type: application/x-www-form-urlencoded', 'Connection: close', ...('' === $cookie ? [] : [$cookie])];
        $said = @file_get_contents("http://localhost:{$this->port}{$path}", false, stream_context_create(['http' => [
            'method' => $method, 'content' => $body, 'ignore_errors' => true, 'follow_location' => 0, 'timeout' => 60, 'header' => $fields,
        ]]));

        return [(string) $said, $http_response_header];
    }

    /** @param list<string> $fields */
    private static function cookieOf(array $fields): string
    {
        $cookie = '';
        foreach ($fields as $field) {
            $cookie = 1 === preg_match('~^Set-Cookie: (ypomna=[^;]+)~i', $field, $m) ? $m[1] : $cookie;
        }

        return 'Cookie: '.$cookie;
    }

    /**
     * @param list<mixed> $parameters
     *
     * @return array<string, mixed> the first row; empty if there is none
     */
    public function row(string $sql, array $parameters = []): array
    {
        $statement = $this->database()->prepare($sql);
        $statement->execute($parameters);
        $row = $statement->fetch(\PDO::FETCH_ASSOC);

        /** @var array<string, mixed> $row */
        $row = \is_array($row) ? $row : [];

        return $row;
    }

    public function database(): \PDO
    {
        if (null === $this->database) {
            if (1 !== preg_match(
                '#^DATABASE_URL="mysql://([^:]+):([^@]+)@([^:]+):(\d+)/([^?]+)#m',
                (string) file_get_contents($this->data.'/ypomna.env'),
                $m,
            )) {
                throw new \RuntimeException('The settings name no database.');
            }
            $this->database = new \PDO("mysql:host={$m[3]};port={$m[4]};dbname={$m[5]}", $m[1], $m[2]);
        }

        return $this->database;
    }

    /** Asks for a page to be kept; gives the code of the job. */
    public function ask(string $url, string ...$options): string
    {
        [$status, $said] = $this->ypomna('keep', $url, ...array_values($options));
        if (0 !== $status || 1 !== preg_match('/\(([2-9a-hjkmnp-z]{12})\)/', $said, $m)) {
            throw new \RuntimeException('The page was not taken on: '.$said);
        }

        return $m[1];
    }

    /**
     * Waits until a job has ended, or is at that stage.
     *
     * @return array<string, mixed> its row
     */
    public function await(string $job, ?string $stage = null, float $seconds = 150.0): array
    {
        $until = microtime(true) + $seconds;
        do {
            $row = $this->row('SELECT * FROM capture_job WHERE code = ?', [$job]);
            if (null !== ($row['finished_at'] ?? null) || (null !== $stage && $stage === ($row['stage'] ?? null))) {
                return $row;
            }
            usleep(100_000);
        } while (microtime(true) < $until);
        throw new \RuntimeException('The job did not get there in time: '.json_encode($row));
    }

    /**
     * @return array<string, mixed> the ended job's row
     */
    public function keep(string $url): array
    {
        return $this->await($this->ask($url));
    }

    /** Path of the file that holds a capture. */
    public function file(string $capture): string
    {
        $path = $this->row('SELECT f.path FROM capture c JOIN warc_file f ON f.id = c.warc_file_id WHERE c.code = ?', [$capture])['path']
            ?? null;

        return \is_string($path) ? $this->data.'/store/'.$path : throw new \RuntimeException('There is no such capture.');
    }

    /**
     * @return array<string, string> SHA-256 by path of everything in the store, files in the making too
     */
    public function holdings(): array
    {
        $files = [];
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator(
            $this->data.'/store', \FilesystemIterator::SKIP_DOTS,
        )) as $file) {
            \assert($file instanceof \SplFileInfo);
            $files[$file->getPathname()] = (string) hash_file('sha256', $file->getPathname());
        }
        ksort($files);

        return $files;
    }

    /** Number of the process that works the queue off. */
    public function worker(): int
    {
        $keeper = trim((string) @file_get_contents($this->data.'/run/worker.pid'));
        $children = trim((string) @file_get_contents("/proc/{$keeper}/task/{$keeper}/children"));

        return (int) explode(' ', $children)[0];
    }

    /** The end of what the installation's logs say; for the message of a test that fails. */
    public function log(): string
    {
        $texts = '';
        foreach ((array) glob($this->data.'/log/*.log') as $path) {
            $texts .= basename((string) $path).":\n".substr((string) file_get_contents((string) $path), -3_000)."\n";
        }

        return $texts;
    }

    public static function root(): string
    {
        return \dirname(__DIR__, 2);
    }

    /**
     * @param list<string> $command
     * @param array<string, string> $environment
     *
     * @return array{int, string}
     */
    public static function run(array $command, array $environment = []): array
    {
        $output = tempnam(sys_get_temp_dir(), 'said');
        $process = proc_open(
            $command,
            [['file', '/dev/null', 'r'], ['file', $output, 'w'], ['file', $output, 'a']],
            $pipes,
            self::root(),
            $environment + getenv(),
        );
        if (false === $process) {
            throw new \RuntimeException('Nothing was started.');
        }
        $status = proc_close($process);
        $said = (string) file_get_contents($output);
        unlink($output);

        return [$status, $said];
    }
}
