<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Account;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Ypomna\Core\Account\Base32;
use Ypomna\Core\Account\TimeBasedCode;

/** Codes of the second step, by the standards' own vectors and beside a program of others. */
final class TimeBasedCodeTest extends TestCase
{
    private const SECRET = '12345678901234567890';

    /** @param 'sha1'|'sha256'|'sha512' $digest */
    #[DataProvider('vectors')]
    public function testTheVectorsOfTheStandard(int $seconds, string $digest, int $bytes, string $code): void
    {
        $secret = substr(str_repeat(self::SECRET, 4), 0, $bytes);
        self::assertSame($code, TimeBasedCode::at($secret, intdiv($seconds, 30), 8, $digest));
    }

    /** @return iterable<string, array{int, string, int, string}> RFC 6238, appendix B */
    public static function vectors(): iterable
    {
        foreach ([
            59 => ['94287082', '46119246', '90693936'],
            1_111_111_109 => ['07081804', '68084774', '25091201'],
            1_111_111_111 => ['14050471', '67062674', '99943326'],
            1_234_567_890 => ['89005924', '91819424', '93441116'],
            2_000_000_000 => ['69279037', '90698825', '38618901'],
            20_000_000_000 => ['65353130', '77737706', '47863826'],
        ] as $seconds => $codes) {
            foreach (['sha1' => 20, 'sha256' => 32, 'sha512' => 64] as $digest => $bytes) {
                yield $seconds.' '.$digest => [$seconds, $digest, $bytes, array_shift($codes) ?? ''];
            }
        }
    }

    public function testAnotherProgramComputesTheSame(): void
    {
        for ($i = 0; $i < 20; ++$i) {
            $secret = hash('sha1', 'secret '.$i, true);
            $seconds = 1_700_000_000 + 977 * $i;
            $process = new Process(['oathtool', '--totp', '-b', '-N', gmdate('Y-m-d H:i:s', $seconds).' UTC', Base32::encode($secret)]);
            $process->mustRun();
            self::assertSame(trim($process->getOutput()), TimeBasedCode::at($secret, intdiv($seconds, 30)));
        }
    }

    public function testACodeHoldsAStepEarlierAndLaterAndOnce(): void
    {
        $now = 1_700_000_010;
        $step = intdiv($now, 30);
        foreach ([-2 => null, -1 => $step - 1, 0 => $step, 1 => $step + 1, 2 => null] as $off => $found) {
            self::assertSame($found, TimeBasedCode::step(self::SECRET, TimeBasedCode::at(self::SECRET, $step + $off), $now, null));
        }
        $code = TimeBasedCode::at(self::SECRET, $step);
        self::assertSame($step, TimeBasedCode::step(self::SECRET, substr($code, 0, 3).' '.substr($code, 3), $now, $step - 1));
        self::assertNull(TimeBasedCode::step(self::SECRET, $code, $now, $step));
        self::assertNull(TimeBasedCode::step(self::SECRET, TimeBasedCode::at(self::SECRET, $step - 1), $now, $step));
    }

    #[DataProvider('noCodes')]
    public function testWhatIsNoCodeOpensNothing(string $typed): void
    {
        self::assertNull(TimeBasedCode::step(self::SECRET, $typed, 1_700_000_010, null));
    }

    /** @return iterable<array{string}> */
    public static function noCodes(): iterable
    {
        $right = TimeBasedCode::at(self::SECRET, intdiv(1_700_000_010, 30));
        foreach (['', ' ', $right.'0', '0'.$right, substr($right, 1), "\0".$right, '0x1F', '٣٤٥٦٧٨', "\xff\xfe"] as $typed) {
            yield [$typed];
        }
    }

    /** RFC 4648, clause 10. */
    public function testBase32(): void
    {
        $vectors = [
            '' => '', 'f' => 'MY', 'fo' => 'MZXQ', 'foo' => 'MZXW6', 'foob' => 'MZXW6YQ', 'fooba' => 'MZXW6YTB', 'foobar' => 'MZXW6YTBOI',
        ];
        foreach ($vectors as $bytes => $text) {
            self::assertSame($text, Base32::encode($bytes));
        }
        self::assertSame('7777A'.str_repeat('A', 3), Base32::encode("\xff\xff\xf0\0\0"));
    }

    public function testTheAddressForATelephoneSaysWhoseItIs(): void
    {
        self::assertSame(
            'otpauth://totp/The%20Watch%26Dog:Ilse%20Varga%3F?secret=MZXW6&issuer=The%20Watch%26Dog&algorithm=SHA1&digits=6&period=30',
            TimeBasedCode::address('The Watch&Dog', 'Ilse Varga?', 'foo'),
        );
    }
}
