<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\Tests\Support\AsideScenes;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\FourthScenes;
use Ypomna\Tests\Support\LateScenes;
use Ypomna\Tests\Support\MoreScenes;
use Ypomna\Tests\Support\OtherScenes;
use Ypomna\Tests\Support\SceneRun;
use Ypomna\Tests\Support\SceneSite;
use Ypomna\Tests\Support\ThirdScenes;

/** Verdicts over the stand-in web, some hundreds of things that servers do with an address. */
final class VerdictTest extends TestCase
{
    public function testVerdicts(): void
    {
        $wrong = $gone = $alive = [];
        $all = $vanished = 0;
        $port = (int) getenv('YPOMNA_TEST_PORT') + 60;
        foreach ([
            new SceneSite(), new MoreScenes(), new AsideScenes(), new LateScenes(), new OtherScenes(), new ThirdScenes(),
            new FourthScenes(),
        ] as $n => $site) {
            foreach (SceneRun::all((new Folder())->path, $port + 4 * $n, $site) as $name => $one) {
                ++$all;
                [$wanted, $found] = [strtok($one['expected'], ' '), strtok($one['found'], ' ')];
                $vanished += 'vanished' === $wanted ? 1 : 0;
                if ($one['expected'] !== $one['found']) {
                    $wrong[] = "{$name}: {$one['found']}, should be {$one['expected']} ({$one['evidence']})";
                }
                if ('alive' === $wanted && 'vanished' === $found) {
                    $gone[] = $name;
                }
                if ('vanished' === $wanted && 'alive' === $found) {
                    $alive[] = $name;
                }
            }
        }
        self::assertGreaterThan(590, $all);
        self::assertSame([], $gone, 'an alive page is never called vanished');
        self::assertLessThanOrEqual(0.03 * $vanished, \count($alive), implode(', ', $alive));
        self::assertLessThanOrEqual(0.03 * $all, \count($wrong), implode("\n", $wrong));
    }
}
