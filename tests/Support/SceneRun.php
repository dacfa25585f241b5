<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Symfony\Component\Process\Process;
use Ypomna\App\Liveness\WebCheck;
use Ypomna\App\Network\Concurrently;
use Ypomna\App\Network\WebAccess;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\Assessor;
use Ypomna\Core\Page\MainText;

/** Looks at every scene of the stand-in web, once. */
final class SceneRun
{
    /**
     * @return array<string, array{expected: string, found: string, evidence: string, judged: Assessment}> by name of the scene
     */
    public static function all(string $folder, SceneSite $site): array
    {
        $port = FreePort::pair('127.77.0.1');
        $root = \dirname(__DIR__, 2);
        $web = new Process(
            ['php', $root.'/standin/web.php', $folder, '127.77.0.1:'.$port, '127.77.0.1:'.($port + 1), '3'],
            env: ['STANDIN_SITES' => $root.'/tests/Support/scenes.php'],
        );
        $web->start();
        // It listens before it has its certificates, and answers after.
        for ($n = 0; $n < 600
            && false === @file_get_contents(
                "http://127.77.0.1:{$port}/", false, stream_context_create(['http' => ['timeout' => 2]]),
            ); ++$n) {
            usleep(50_000);
        }
        try {
            $access = new WebAccess(
                'dns://127.77.0.1:'.($port + 1),
                '*.test',
                '',
                "127.77.0.1:80=127.77.0.1:{$port} 127.77.0.1:443=127.77.0.1:{$port}",
                $folder.'/certificates/authority.pem',
            );
            $look = new WebCheck($access);
            $scenes = $site->scenes();
            $tasks = [];
            foreach ($scenes as $name => $scene) {
                $tasks[$name] = static fn (): Assessment => (new Assessor($look, self::madeUp((string) $name)))->judge(
                    $look->check(Url::parse($scene->url)),
                    null === $scene->held ? null : MainText::fromHtml($scene->held, 'text/html; charset=utf-8'),
                );
            }
            $judged = Concurrently::run($tasks, 150.0, 16);
        } finally {
            $web->stop(2);
        }
        $found = [];
        foreach ($scenes as $name => $scene) {
            $one = $judged[$name];
            $one = $one instanceof Assessment ? $one : throw new \RuntimeException($name.': '.$one->getMessage());
            $found[$name] = [
                'expected' => $scene->expected, 'found' => $one->verdict->value.' '.$one->reason->value,
                'evidence' => implode(' ', $one->evidence), 'judged' => $one,
            ];
        }

        return $found;
    }

    /**
     * Names that nobody uses, the same ones in each run: what a scene says to them may depend on them.
     *
     * @return \Closure(): string
     */
    private static function madeUp(string $scene): \Closure
    {
        $n = 0;

        return static function () use ($scene, &$n): string {
            return 'y'.substr(hash('sha256', $scene.' '.++$n), 0, 14);
        };
    }
}
