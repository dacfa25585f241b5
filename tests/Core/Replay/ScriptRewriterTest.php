<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Replay;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Replay\LinkMap;
use Ypomna\Core\Replay\ReferenceMapper;
use Ypomna\Core\Replay\ScriptRewriter;

final class ScriptRewriterTest extends TestCase
{
    #[DataProvider('scripts')]
    public function testOnlyImportsAreTurned(string $script, bool $isModule, string $expected): void
    {
        self::assertSame($expected, self::rewriter()->rewrite($script, $isModule));
    }

    /**
     * @return iterable<array{string, bool, string}>
     */
    public static function scripts(): iterable
    {
        yield ['import a from "https://cdn.test/a.js";', true, 'import a from "[https://cdn.test/a.js]";'];
        yield ["import {a,b as c}from'//cdn.test/a.js'", true, "import {a,b as c}from'[http://cdn.test/a.js]'"];
        yield ['import "http://cdn.test/a.js"', true, 'import "[http://cdn.test/a.js]"'];
        yield ['export * from "http://cdn.test/a.js"', true, 'export * from "[http://cdn.test/a.js]"'];
        yield ['const m = await import( "https://cdn.test/a.js" )', false, 'const m = await import( "[https://cdn.test/a.js]" )'];
        yield ['import a from "./a.js"; import("../b.js")', true, 'import a from "./a.js"; import("../b.js")'];
        yield ['say("taken from \'http://cdn.test/a.js\'")', false, 'say("taken from \'http://cdn.test/a.js\'")'];
        yield ['const u = "http://cdn.test/a.js"', true, 'const u = "http://cdn.test/a.js"'];
        yield ['import("http://cdn.test/" + name)', false, 'import("[http://cdn.test/]" + name)'];
        yield ["import a from \"http://cdn.test/\xff\xfe.js\"", true, 'import a from "[http://cdn.test/%FF%FE.js]"'];
    }

    public function testAnImportMapLeadsToTheArchive(): void
    {
        self::assertSame(
            '{"imports":{"lib":"[https://cdn.test/b.js]","./x/":"./y/"}}',
            self::rewriter()->importMap('{"imports":{"lib":"https://cdn.test/b.js","./x/":"./y/"}}'),
        );
    }

    private static function rewriter(): ScriptRewriter
    {
        return new ScriptRewriter(new ReferenceMapper(new class implements LinkMap {
            public function map(Url $url): string
            {
                return '['.$url.']';
            }
        }, Url::parse('http://lantern.test/')));
    }
}
