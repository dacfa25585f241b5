<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\TestCase;
use Revolt\EventLoop;
use Ypomna\App\Network\Browser\BrowserFailed;
use Ypomna\App\Network\Browser\BrowserPipe;

/** What is said to a browser and heard of it, and what a browser that a page has taken over can say. */
final class BrowserPipeTest extends TestCase
{
    private BrowserPipe $pipe;
    /** @var resource the browser's end of what it reads */
    private $read;
    /** @var resource the browser's end of what it writes */
    private $write;

    protected function setUp(): void
    {
        [$in, $this->read] = self::pair();
        [$out, $this->write] = self::pair();
        stream_set_blocking($this->read, false);
        stream_set_blocking($this->write, false);
        $this->pipe = new BrowserPipe($in, $out);
    }

    protected function tearDown(): void
    {
        $this->pipe->close();
    }

    public function testAnswersFindTheirQuestionsInAnyOrder(): void
    {
        $answers = [];
        foreach (['a', 'b'] as $n => $method) {
            EventLoop::queue(function () use (&$answers, $n, $method): void {
                $of = $this->pipe->call($method, ['x' => $n], 's')['of'] ?? null;
                $answers[] = $method.' answered with '.(\is_string($of) ? $of : '');
            });
        }
        $asked = $this->asked(2);
        self::assertSame(
            [['id' => 1, 'method' => 'a', 'params' => ['x' => 0], 'sessionId' => 's'], ['id' => 2, 'method' => 'b',
                'params' => ['x' => 1], 'sessionId' => 's']],
            $asked,
        );
        $this->say('{"id":2,"result":{"of":"b"}}', '{"id":1,"result":{"of":"a"}}');
        self::assertSame(['b answered with b', 'a answered with a'], $answers);
    }

    public function testWhatIsNoAnswerDisturbsNobody(): void
    {
        $heard = [];
        $this->pipe->listen(static function (string $method, array $parameters, string $session) use (&$heard): void {
            $heard[] = [$method, $parameters, $session];
        });
        $this->say(
            '', 'no JSON', '7', '[]', '{"id":99,"result":{}}', '{"id":"1"}', '{"method":7}', str_repeat('[', 300).str_repeat(']', 300),
            '{"method":"a","params":7,"sessionId":[]}', '{"method":"b","params":{"x":1},"sessionId":"s"}',
        );
        self::assertSame([['a', [], ''], ['b', ['x' => 1], 's']], $heard);
        $this->pipe->forget();
        $this->say('{"method":"c"}');
        self::assertCount(2, $heard);
    }

    public function testAMessageThatIsTooLongIsDroppedAndCostsNoMemory(): void
    {
        $heard = [];
        $this->pipe->listen(static function (string $method) use (&$heard): void { $heard[] = $method; });
        $before = memory_get_usage();
        memory_reset_peak_usage();
        $piece = str_repeat('x', 1_048_576);
        fwrite($this->write, '{"method":"');
        for ($n = 0; $n < 60; ++$n) {
            for ($sent = 0; $sent < \strlen($piece); $sent += (int) fwrite($this->write, substr($piece, $sent))) {
                $this->turn();
            }
        }
        self::assertLessThan(50_000_000, memory_get_peak_usage() - $before);
        $this->say('"}', '{"method":"after"}');
        self::assertSame(['after'], $heard);
    }

    public function testWhoeverWaitsIsToldWhyItEnded(): void
    {
        $told = [];
        foreach (['refused', 'late', 'closed'] as $which) {
            EventLoop::queue(function () use (&$told, $which): void {
                try {
                    $this->pipe->call($which, [], null, 'late' === $which ? 0.01 : 30.0);
                } catch (BrowserFailed $e) {
                    $told[$which] = $e->getMessage();
                }
            });
        }
        $this->asked(3);
        $this->say('{"id":1,"error":{"message":"No such thing"}}');
        for ($n = 0; $n < 200 && !isset($told['late']); ++$n) {
            $this->turn();
        }
        self::assertFalse($this->pipe->isClosed());
        $this->pipe->close('The page took more memory than a page may.');
        $this->turn();
        self::assertEquals([
            'refused' => 'The browser refused refused: No such thing', 'late' => 'The browser did not answer to late in time.',
            'closed' => 'The page took more memory than a page may.',
        ], $told);
        $this->expectExceptionMessage('The page took more memory than a page may.');
        $this->pipe->call('again');
    }

    public function testABrowserThatGoesByItselfClosesIt(): void
    {
        fclose($this->write);
        $this->turn();
        self::assertTrue($this->pipe->isClosed());
        $this->expectExceptionMessage('The browser has ended.');
        $this->pipe->call('anything');
    }

    /** @return list<mixed> what the browser was asked, so many times */
    private function asked(int $many): array
    {
        $bytes = '';
        for ($n = 0; $n < 200 && substr_count($bytes, "\0") < $many; ++$n) {
            $this->turn();
            $bytes .= fread($this->read, 65_536);
        }

        return array_map(static fn (string $one): mixed => json_decode($one, true), explode("\0", rtrim($bytes, "\0")));
    }

    private function say(string ...$messages): void
    {
        fwrite($this->write, implode("\0", $messages)."\0");
        $this->turn();
        $this->turn();
    }

    /** What can be done now is done. */
    private function turn(): void
    {
        $suspension = EventLoop::getSuspension();
        EventLoop::delay(0.005, static fn () => $suspension->resume());
        $suspension->suspend();
    }

    /** @return array{resource, resource} */
    private static function pair(): array
    {
        $pair = stream_socket_pair(\STREAM_PF_UNIX, \STREAM_SOCK_STREAM, 0);
        self::assertIsArray($pair);
        [$one, $other] = $pair;
        self::assertIsResource($one);
        self::assertIsResource($other);

        return [$one, $other];
    }
}
