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

    private const CHALLENGE = '/(?:checking|verifying|confirm(?:ing)?) (?:that )?(?:if )?(?:your browser|the site connection|(?:that'
        .' )?you(?:\'|’)?(?:re| are)? (?:a )?(?:human|not a robot))|verify (?:that )?you(?:\'|’)?(?:re| are) (?:a )?(?:human|not a'
        .' robot|person)|are you (?:a )?(?:human|robot)|i(?:\'|’)?a?m not a robot|unusual (?:traffic|activity)|automated'
        .' (?:requests|queries|access)|complete the (?:captcha|security check)|\bcaptcha\b|security check|enable javascript and'
        .' cookies to continue|just a moment|one more step|attention required|press and hold|prove (?:that )?you(?:\'|'
        .'’)?(?:re| are)|bist du ein (?:mensch|roboter)|kein roboter|vous êtes (?:bien )?(?:un )?humain|pas un robot|'
        .'(?:es|eres) (?:un )?human[oa]|no soy un robot|(?:sei|siete) (?:un )?uman[oi]|non (?:sono|essere) un robot|'
        .'não (?:sou|é) um robô|é humano|geen robot|bent een mens|inte en robot|ikke en robot|nie jestem'
        .' robotem|jesteś człowiekiem|nejsem robot|не робот|вы (?:не робот|человек)|robot değil\w*|(?:确认|验证|'
        .'證明|证明)您?是(?:真人|人类)|人机验证|로봇이 아닙니다|لست (?:روبوت|برنامج)|δεν είστε ρομπότ|είστε άνθρωπος|'
        .'ロボットではありません/iu';
    /** Persons and robots, on a page that turns somebody away. */
    private const PERSON = '/\brob[oô]t?s?\b|робот|ρομπότ|ロボット|로봇|机器人|機器人|روبوت|רובוט|\bhuman[oa]?\b|\bhumain\b|\buman[oi]\b|\bmensch\b|'
        .'真人|captcha/iu';
    private const LOGIN = '/\b(?:log ?in|sign ?in|log ?on|anmelden|einloggen|connexion|se connecter|iniciar sesión|accedi|σύνδεση|'
        .'συνδεθείτε|inloggen|aanmelden|logga in|log ind|logg inn|kirjaudu|zaloguj|přihlásit|bejelentkezés|autentificare|войти|вход|'
        .'увійти|entrar|iniciar sessão|giriş yap|đăng nhập|masuk)\b|ログイン|登录|登錄|로그인|تسجيل الدخول|ورود|התחבר|เข้าสู่ระบบ/iu';
    private const PAYWALL = '/(?:log ?in|sign ?in|subscribe|register|become a (?:member|subscriber)|create an? (?:free'
        .' )?account)[^.!?\n]{0,60}(?:to (?:continue|keep|read|view|see|access|unlock)|for (?:full )?access)|(?:to (?:continue|keep)'
        .' reading|to read (?:the|this) (?:full|whole|rest)|this (?:article|content|story|page|thread|topic|forum) is (?:only'
        .' )?(?:for|available to|reserved for|visible to) (?:\w+ )?(?:subscribers|members|registered))|only (?:members|'
        .'subscribers|registered users)|must be (?:logged|signed) in|members only|you (?:need|have) to (?:log|sign) in/iu';
    /** Words of a whole sentence, so many of them that a page is a text, and how much of it is looked at. */
    private const SENTENCE = 8;
    private const TEXT = 3;
    private const READ = 4_000;
    private const CONSENT = '/\b(?:cookies?|consent|privacy|personal data|gdpr|datenschutz|einwilligung|cookies akzeptieren|vie privée|'
        .'confidentialité|privacidad|απόρρητο|συγκατάθεση|toestemming|integritet|samtycke|samtykke|evästeet|prywatność|ciastec\w+|'
        .'soukromí|adatvédelem|confidențialitate|privacidade|consentimento|consenso|конфиденциальност\w*|куки|файлов? cookie|'
        .'конфіденційн\w*|çerez\w*|gizlilik|quyền riêng tư)\b|cookie|同意|クッキー|隐私|隱私|쿠키|개인정보|ملفات تعريف الارتباط|الخصوصية|עוגיות|'
        .'פרטיות|คุกกี้/iu';
    private const WAITING = '/^\W*(?:loading|please wait|wait|one moment|laden|lädt|chargement|cargando|caricamento|φόρτωση|読み込み中|'
        .'initiali[sz]ing|starting)?\W*(?:loading|please wait|…|\.{3})?\W*$/iu';
    private const NEEDS_SCRIPT = '/(?:enable|turn on|requires?|needs?|activate|without) (?:\w+ )?javascript|javascript (?:is |must be |'
        .'has to be )?(?:required|disabled|enabled|turned off|not enabled)|javascript aktivieren/iu';

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
        return 1 === preg_match(self::CONSENT, mb_scrub($text));
    }

    /** Whether words are those of a way in. */
    public static function asksForSignIn(string $text): bool
    {
        return 1 === preg_match(self::LOGIN, mb_scrub($text)) || self::isGate($text);
    }

    /** Whether a sentence says that only some may read on. */
    public static function isGate(string $sentence): bool
    {
        return TroubleWords::isForSome($sentence) || 1 === preg_match(self::PAYWALL, mb_scrub($sentence));
    }

    private static function challenges(PageSeen $page): bool
    {
        $marked = 1 === preg_match(
            '#<(?:iframe|script|form|div|input)\b[^<>]{0,2000}\b(?:src|action|id|class|name)\s*=\s*["\']?[^"\'<>]{0,500}(?:captcha|'
                .'challenge|bot-?check|human-?check)#i',
            $page->html,
        );
        $said = 1 === preg_match(self::CHALLENGE, mb_scrub($page->title."\n".$page->text));

        $turned = \in_array($page->status, [403, 429, 503], true);

        // A form to write to somebody may end in a riddle, too.
        return $said || ($turned && $page->words() < self::FEW && 1 === preg_match(self::PERSON, mb_scrub($page->title."\n".$page->text)))
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

        if ($password && ($ledThere || ($words < 90 && 1 === preg_match(self::LOGIN, $text)))) {
            return true;
        }

        return ($words < 400 && 1 === preg_match(self::PAYWALL, $text))
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
            && (('' === $text || 1 === preg_match(self::WAITING, $text))
                || ($words < 40 && $hasScripts && 1 === preg_match(self::NEEDS_SCRIPT, $text)));
    }
}
