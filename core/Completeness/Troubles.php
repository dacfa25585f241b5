<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

use Ypomna\Core\Page\RequisiteKind;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Split;

/**
 * Recognises pages that are not what a reader came for. Words alone decide nothing on a page that has much to read: an
 * article about passwords is no login.
 */
final class Troubles
{
    /** A page with more words than this is taken for what was asked for. */
    private const SHORT = 180;
    /** So much of a story is shown at most to those who do not pay. */
    private const STUB = 200;
    /** A page with fewer words may say in its first sentences that it is none. */
    private const FEW = 60;
    private const FIRST = 5;
    /** Words of a whole sentence, so many of them that a page is a text, and how much of it is looked at. */
    private const SENTENCE = 8;
    private const TEXT = 3;
    private const READ = 4_000;

    /**
     * @return list<Trouble>
     */
    public static function of(PageSeen $page): array
    {
        $words = $page->words();
        $short = $words < self::SHORT;
        $troubles = [];
        if ($short && self::challenges($page)) {
            $troubles[] = Trouble::Challenge;
        } elseif (self::asksForLogin($page, $words)) {
            $troubles[] = Trouble::Login;
        } elseif ($page->status >= 400) {
            $troubles[] = Trouble::ErrorStatus;
        } elseif ($short && self::saysNotFound($page, $words)) {
            $troubles[] = Trouble::Soft404;
        } elseif (self::isShell($page, $words)) {
            $troubles[] = Trouble::EmptyShell;
        }
        if ($page->covered) {
            $troubles[] = Trouble::Consent;
        }
        if ($page->grows) {
            $troubles[] = Trouble::EndlessScroll;
        }
        foreach (1 === preg_match('/<(?:object|embed|applet)\b/i', $page->html) ? Requisites::all($page->html)[1] : [] as $part) {
            if (RequisiteKind::Plugin === $part->kind) {
                $troubles[] = Trouble::Plugin;
                break;
            }
        }

        return $troubles;
    }

    /** Whether words are those of a request for consent. */
    public static function asksForConsent(string $text): bool
    {
        return TroubleWords::says('consent', mb_scrub($text));
    }

    /** Whether words are those of a way in. */
    public static function asksForSignIn(string $text): bool
    {
        return TroubleWords::says('login', mb_scrub($text)) || self::isGate($text);
    }

    /** Whether a sentence says that only some may read on. */
    public static function isGate(string $sentence): bool
    {
        return TroubleWords::isForSome($sentence) || TroubleWords::says('paywall', mb_scrub($sentence));
    }

    private static function challenges(PageSeen $page): bool
    {
        $marked = 1 === preg_match(
            '#<(?:iframe|script|form|div|input)\b[^<>]{0,2000}\b(?:src|action|id|class|name)\s*=\s*["\']?[^"\'<>]{0,500}(?:captcha|'
                .'challenge|bot-?check|human-?check)#i',
            $page->html,
        );
        $said = TroubleWords::says('challenge', mb_scrub($page->title."\n".$page->text));

        $turned = \in_array($page->status, [403, 429, 503], true);

        // A form to write to somebody may end in a riddle, too.
        return $said || ($turned && $page->words() < self::FEW && TroubleWords::says('person', mb_scrub($page->title."\n".$page->text)))
            || ($marked && $turned) || ($marked && $page->words() < 40);
    }

    private static function asksForLogin(PageSeen $page, int $words): bool
    {
        if (401 === $page->status) {
            return true;
        }
        $password = 1 === preg_match('/<input\b[^<>]*\btype\s*=\s*["\']?password\b/i', $page->html);
        $text = mb_scrub($page->title."\n".$page->text);
        $path = (string) parse_url($page->url, \PHP_URL_PATH).'?'.(string) parse_url($page->url, \PHP_URL_QUERY);
        $ledThere = $page->url !== $page->asked
            && 1 === preg_match('#(?:^|[/?&=_-])(?:log-?in|sign-?in|log-?on|auth(?:enticate|orize)?|sso|anmelden)(?:[/?&=._-]|$)#i', $path);

        if ($password && ($ledThere || ($words < 90 && TroubleWords::says('login', $text)))) {
            return true;
        }

        return ($words < 400 && TroubleWords::says('paywall', $text))
            || ($words < self::STUB && [] !== array_filter(Split::by('/[.!?。！？]\s|\n/u', $text), self::isGate(...)));
    }

    private static function saysNotFound(PageSeen $page, int $words): bool
    {
        // A text about pages that are gone says so, too; it has more to say.
        $prose = array_filter(Split::by(
            '/[.!?。！？؟]\s|\n/u', mb_substr(trim($page->text), 0, self::READ),
        ), static fn (string $sentence): bool => \count(Split::words($sentence)) >= self::SENTENCE
            && Saying::No === TroubleWords::gone($sentence) && !TroubleWords::helps($sentence));
        if (\count($prose) >= self::TEXT) {
            return false;
        }
        // The title, the first lines: where a page says it, it says it there.
        $heading = 1 === preg_match('~<h[12]\b[^<>]*>(.*?)</h[12]>~is', $page->html, $m)
            ? html_entity_decode(strip_tags($m[1]), \ENT_QUOTES | \ENT_HTML5, 'UTF-8')
            : '';
        foreach ([...Split::by('/\s+[|–—·:»-]\s+|\s[|]\s?/u', $page->title), trim($heading)] as $head) {
            if (Saying::Wholly === TroubleWords::gone($head)) {
                return true;
            }
        }
        $first = $words < self::FEW
            ? \array_slice(Split::by('/[.!?。！？؟]\s|\n/u', mb_substr(trim($page->text), 0, 400)), 0, self::FIRST)
            : [];

        return [] !== array_filter(
            $first, static fn (string $sentence): bool => \in_array(TroubleWords::gone($sentence), [Saying::Plainly, Saying::Wholly], true),
        );
    }

    private static function isShell(PageSeen $page, int $words): bool
    {
        $text = trim(mb_scrub($page->text));
        $hasScripts = 1 === preg_match('/<script\b/i', $page->html);

        return 0 === $page->substance
            && (('' === $text || TroubleWords::says('waiting', $text))
                || ($words < 40 && $hasScripts && TroubleWords::says('needs-script', $text)));
    }
}
