<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Tests\Support\AsideScenes;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\FourthScenes;
use Ypomna\Tests\Support\LateScenes;
use Ypomna\Tests\Support\MoreScenes;
use Ypomna\Tests\Support\OtherScenes;
use Ypomna\Tests\Support\SceneRun;
use Ypomna\Tests\Support\SceneSite;
use Ypomna\Tests\Support\ThirdScenes;

/**
 * Verdicts over the stand-in web, some hundreds of things that servers do with an address. One alone:
 * `bin/test system --filter 'VerdictTest.*NAME'`.
 */
final class VerdictTest extends TestCase
{
    private const SITES = [
        SceneSite::class, MoreScenes::class, AsideScenes::class, LateScenes::class, OtherScenes::class, ThirdScenes::class,
        FourthScenes::class,
    ];

    /** @var array<class-string<SceneSite>, array<string, array{expected: string, found: string, evidence: string, judged: Assessment}>> */
    private static array $judged = [];

    public static function tearDownAfterClass(): void
    {
        self::$judged = [];
    }

    /** @param class-string<SceneSite> $site */
    #[DataProvider('scenes')]
    public function testAScene(string $site, string $name): void
    {
        // The scenes of a site are looked at at once: most of the time they wait.
        self::$judged[$site] ??= SceneRun::all((new Folder())->path, new $site());
        $one = self::$judged[$site][$name];
        self::assertSame($one['expected'], $one['found'], $one['evidence']);
    }

    /** @return iterable<string, array{class-string<SceneSite>, string}> */
    public static function scenes(): iterable
    {
        foreach (self::SITES as $site) {
            foreach ((new $site())->scenes() as $name => $scene) {
                yield substr((string) strrchr($site, '\\'), 1).': '.$name => [$site, (string) $name];
            }
        }
    }
}
